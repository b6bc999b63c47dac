import { Refused } from '../../app/api';
import { Button } from '../../ui/controls';

/** Why something was not made; where it is much like what is here, with a way to make it all the same. */
export function NotMade({ error, busy, onDespite }: { error: Error | null; busy: boolean; onDespite: () => void }) {
  if (!error) return null;
  const isNear = error instanceof Refused && error.problem.code === 'nearMiss';
  return (
    <p role="alert" className={`flex w-full items-baseline gap-3 ${isNear ? '' : 'text-alarm'}`}>
      {error.message}
      {isNear ? (
        <Button busy={busy} onClick={onDespite}>
          Make it all the same
        </Button>
      ) : null}
    </p>
  );
}

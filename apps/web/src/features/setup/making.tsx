import { Refused } from '../../app/api';
import { Button } from '../../ui/controls';

const NEAR = new Set(['nearMiss', 'nearChoice']);

/** Why something was not made; where it is much like what is here, with a way to make it all the same. */
export function NotMade({
  error,
  busy,
  onDespite,
  onUse,
}: {
  error: Error | null;
  busy: boolean;
  onDespite: () => void;
  /** Takes the one that is here, where that can be done in one step. */
  onUse?: () => void;
}) {
  if (!error) return null;
  const isNear = error instanceof Refused && NEAR.has(error.problem.code);
  return (
    <p role="alert" className={`flex w-full items-baseline gap-3 ${isNear ? '' : 'text-alarm'}`}>
      {error.message}
      {isNear && onUse ? (
        <Button busy={busy} onClick={onUse}>
          Use that one
        </Button>
      ) : null}
      {isNear ? (
        <Button busy={busy} onClick={onDespite}>
          Make it all the same
        </Button>
      ) : null}
    </p>
  );
}

import { useMutation } from '@tanstack/react-query';
import type { CalendarAddress } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Fault, Heading } from '../../ui/controls';

/** The secret address of one's own calendar, told once, for any program that reads calendars. */
export function CalendarSection() {
  const make = useMutation({ mutationFn: () => api.post<CalendarAddress>('/me/calendar') });
  const address = make.data ? `${location.origin}${make.data.path}` : null;
  return (
    <section>
      <Heading>Your calendar elsewhere</Heading>
      <Fault error={make.error} onClose={() => make.reset()} />
      <p className="py-2 text-ink2">
        A calendar program can show your appointments and tasks by a secret address. Whoever has it sees them; a new
        address ends the old one.
      </p>
      {address ? (
        <p className="flex items-center gap-2 pb-2">
          <input
            readOnly
            aria-label="Address of your calendar"
            className="field min-w-0 flex-1 font-mono text-[12px]"
            value={address}
            onFocus={(event) => event.target.select()}
          />
          <span className="text-ink2">shown once</span>
        </p>
      ) : null}
      <Button busy={make.isPending} onClick={() => make.mutate()}>
        {address ? 'Make another address' : 'Make an address'}
      </Button>
    </section>
  );
}

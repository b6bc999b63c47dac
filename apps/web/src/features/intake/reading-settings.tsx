import { keys } from '../../app/keys';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { ENCODINGS } from '@gray-loom/core/formats';
import type { IntakeDetail, Reread } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button } from '../../ui/controls';
import { DELIMITERS } from './delimiters';

/** How the file is read, where the guess was wrong. */
export function ReadingSettings({ detail }: { detail: IntakeDetail }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [draft, setDraft] = useState<Reread>({
    encoding: detail.shape.encoding.name,
    delimiter: detail.shape.delimiter,
    headerRow: detail.shape.headerRow ?? 0,
  });
  const reread = useMutation({
    mutationFn: () => api.post<IntakeDetail>(`/intakes/${detail.id}/reread`, draft),
    onSuccess: (next) => {
      client.setQueryData(keys.intake(detail.id), next);
      setOpen(false);
    },
  });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button kind="quiet">Read it differently</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          className="z-40 w-80 border border-strong bg-page p-4"
          aria-label="How the file is read"
        >
          <div className="grid grid-cols-[84px_1fr] items-baseline gap-x-3 gap-y-2">
            {detail.shape.madeOf ? null : (
              <>
                <label className="contents">
                  <span className="text-ink2">Encoding</span>
                  <select
                    className="field"
                    value={draft.encoding ?? ''}
                    onChange={(event) => setDraft({ ...draft, encoding: event.target.value })}
                  >
                    {[...new Set([detail.shape.encoding.name, ...ENCODINGS])].map((name) => (
                      <option key={name}>{name}</option>
                    ))}
                  </select>
                </label>
                <label className="contents">
                  <span className="text-ink2">Delimiter</span>
                  <select
                    className="field"
                    value={draft.delimiter ?? ''}
                    onChange={(event) => setDraft({ ...draft, delimiter: event.target.value })}
                  >
                    {DELIMITERS.map(([mark, text]) => (
                      <option key={mark} value={mark}>
                        {text}
                      </option>
                    ))}
                  </select>
                </label>
              </>
            )}
            <label className="contents">
              <span className="text-ink2">Heading row</span>
              <input
                type="number"
                min={0}
                max={50}
                className="field w-20"
                value={draft.headerRow ?? 0}
                onChange={(event) => setDraft({ ...draft, headerRow: Number(event.target.value) })}
              />
            </label>
          </div>
          <p className="mt-2 text-[12px] text-ink2">
            Heading row 0 means that there is none. Reading anew guesses the meanings anew.
          </p>
          {reread.error ? <p className="text-alarm">{reread.error.message}</p> : null}
          <Button kind="action" className="mt-3" busy={reread.isPending} onClick={() => reread.mutate()}>
            Read again
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

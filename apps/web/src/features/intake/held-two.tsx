import { useMay } from '../../app/may';
import { keys } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { HeldRow, MendPreview } from '@gray-loom/wire';
import { api, Refused } from '../../app/api';
import { Button } from '../../ui/controls';
import { count } from '../../ui/when';

const WHO = ['first', 'second'] as const;

/** What cells of a held row become, as they are typed. */
export function useMendPreview({ runId, row }: HeldRow, cells: string[]) {
  const mayEdit = useMay('editor');
  return useQuery({
    enabled: mayEdit,
    queryKey: keys.mend(runId, row, cells),
    queryFn: () => api.post<MendPreview[]>(`/held/${runId}/${row}/preview`, { cells }),
    placeholderData: (previous) => previous,
  });
}

interface TwoSheetProps {
  row: HeldRow;
  /** The cells of each of the two, as they are proposed. */
  proposed: [string[], string[]];
  onBack: () => void;
  onDone: () => Promise<void>;
}

/** A held row that names two people, as the rows of both beside one another; let in together. */
export function TwoSheet({ row, proposed, onBack, onDone }: TwoSheetProps) {
  const [people, setPeople] = useState(proposed);
  const previews = [useMendPreview(row, people[0]), useMendPreview(row, people[1])];
  const letIn = useMutation({
    mutationFn: () => api.post(`/held/${row.runId}/${row.row}/let-in-two`, { people }),
    onSuccess: onDone,
  });
  const wrong = letIn.error instanceof Refused ? letIn.error.problem.facts : undefined;
  const nameOf = (who: number) =>
    previews[who]?.data?.map(({ shown }) => shown).find((shown) => /(?:^|· )(?:given|family) /.test(shown)) ?? '';
  const change = (who: number, at: number, text: string) => {
    letIn.reset();
    setPeople(([a, b]) => {
      const put = (cells: string[]) => cells.map((cell, i) => (i === at ? text : cell));
      return who ? [a, put(b)] : [put(a), b];
    });
  };
  return (
    <form
      className="px-4.5 py-3.5"
      onSubmit={(event) => {
        event.preventDefault();
        letIn.mutate();
      }}
    >
      <h2 className="text-[16px] font-bold">
        Row {count(row.row)} of {row.fileName}, as two people
      </h2>
      <p className="mt-1 mb-3 text-ink2">
        What both have stands with both. Take away what one does not have, then let both in; one undo takes both back.
      </p>
      <div className="grid grid-cols-[88px_minmax(0,1fr)_minmax(0,1fr)] gap-x-2">
        <span className="border-b border-strong" />
        {WHO.map((who, i) => (
          <h3 key={who} className="border-b border-strong pb-1 text-[12.5px] text-ink2">
            {i === 0 ? 'The first' : 'The second'}
            <span className="block text-ink3">{nameOf(i) || '\u00a0'}</span>
          </h3>
        ))}
        {row.headers.map((header, at) => {
          const name = header || `Column ${at + 1}`;
          return [
            <span
              key={`${at} name`}
              className="truncate border-b border-hair py-2 text-[12.5px] text-ink2"
              title={name}
            >
              {name}
            </span>,
            ...WHO.map((who, i) => {
              const said = wrong?.person === i && wrong.column === at ? letIn.error?.message : null;
              const bad = previews[i]?.data?.[at]?.issue ?? said;
              return (
                <span key={`${at} ${who}`} className="border-b border-hair py-1">
                  <input
                    aria-label={`${name} of the ${who}`}
                    aria-invalid={!!bad}
                    autoFocus={at === 0 && i === 0}
                    className="field w-full font-mono text-[12.5px]"
                    value={people[i]?.[at] ?? ''}
                    onChange={(event) => change(i, at, event.target.value)}
                  />
                  {bad ? <span className="block text-[12.5px] text-alarm">{bad}</span> : null}
                </span>
              );
            }),
          ];
        })}
      </div>
      {letIn.error ? (
        <p role="alert" className="mt-3 text-alarm">
          {typeof wrong?.person === 'number' ? `The ${WHO[wrong.person] ?? ''}: ` : ''}
          {letIn.error.message}
        </p>
      ) : null}
      <div className="mt-4 flex flex-wrap gap-2">
        <Button needs="editor" kind="action" type="submit" busy={letIn.isPending}>
          Let both in
        </Button>
        <Button onClick={onBack}>Back to one row</Button>
      </div>
    </form>
  );
}

import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { HeldRow } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useTouch } from '../../app/keys';
import { Button } from '../../ui/controls';
import { count } from '../../ui/when';

/** Held rows as they are most likely meant, to be looked at and let in together; what is not ticked stays held. */
export function MeantSheet({ rows, onClose }: { rows: HeldRow[]; onClose: () => void }) {
  const touch = useTouch();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const keyOf = (row: HeldRow) => `${row.runId}:${row.row}`;
  const ticked = rows.filter((row) => !left.has(keyOf(row)));
  const letIn = useMutation({
    mutationFn: async () => {
      const sum = { letIn: 0, held: 0 };
      for (const runId of new Set(ticked.map((row) => row.runId))) {
        const of = ticked.filter((row) => row.runId === runId).map(({ row }) => row);
        const done = await api.post<typeof sum>(`/held/${runId}/meant`, { rows: of });
        sum.letIn += done.letIn;
        sum.held += done.held;
      }
      return sum;
    },
    onSettled: () => touch('held', 'contacts', 'run', 'intakes'),
  });
  return (
    <form
      className="px-4.5 py-3.5"
      onSubmit={(event) => {
        event.preventDefault();
        letIn.mutate();
      }}
    >
      <h2 className="text-[16px] font-bold">What is most likely meant</h2>
      <p className="mt-1 mb-2 text-ink2">
        Untick what you want to look at on its own. Each row is checked as always. One press is one run, and can be
        taken back as one.
      </p>
      <ul className="border-t border-hair">
        {rows.map((row) => {
          const at = row.meant?.findIndex((cell, i) => cell !== row.cells[i]) ?? -1;
          return (
            <li key={keyOf(row)} className="border-b border-hair py-1">
              <label className="grid grid-cols-[16px_36px_minmax(0,1fr)] items-baseline gap-2">
                <input
                  type="checkbox"
                  checked={!left.has(keyOf(row))}
                  onChange={(event) => {
                    const next = new Set(left);
                    if (event.target.checked) next.delete(keyOf(row));
                    else next.add(keyOf(row));
                    setLeft(next);
                  }}
                />
                <span className="text-right text-ink3">{count(row.row)}</span>
                <span className="font-mono text-[12.5px] break-all">
                  <span className="block">{row.meant?.[at]}</span>
                  <span className="block text-ink3 line-through">{row.cells[at]}</span>
                  <span className="block font-sans text-ink2">
                    {row.cells
                      .filter((cell, i) => cell && i !== at)
                      .slice(0, 3)
                      .join(' · ')}
                  </span>
                </span>
              </label>
            </li>
          );
        })}
      </ul>
      {letIn.error ? (
        <p role="alert" className="mt-3 text-alarm">
          {letIn.error.message}
        </p>
      ) : null}
      {letIn.data ? (
        <p role="status" className="mt-3 text-ink2">
          {count(letIn.data.letIn)} let in
          {letIn.data.held
            ? `; ${count(letIn.data.held)} still held, as something else stands against ${letIn.data.held === 1 ? 'it' : 'them'}`
            : ''}
          .
        </p>
      ) : null}
      <div className="mt-4 flex flex-wrap gap-2">
        <Button needs="editor" kind="action" type="submit" busy={letIn.isPending} disabled={!ticked.length}>
          Let {ticked.length === 1 ? '1 row' : `${count(ticked.length)} rows`} in so
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
    </form>
  );
}

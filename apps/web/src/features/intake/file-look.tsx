import { useEffect, useRef, useState } from 'react';
import { mappingTargets } from '@gray-loom/core/mapping';
import { Button } from '../../ui/controls';
import { rowsOf } from '../../ui/when';
import type { PreviewMessage } from './preview-worker';
import { writtenAs } from './delimiters';

/** Looks into a file in a worker of the browser. Null until something is known; `onSeen` is told of the first that is. */
function useLook(file: File, onSeen: (kind: PreviewMessage['kind']) => void): PreviewMessage | null {
  const [seen, setSeen] = useState<PreviewMessage | null>(null);
  const tell = useRef(onSeen);
  useEffect(() => {
    tell.current = onSeen;
  });
  useEffect(() => {
    const worker = new Worker(new URL('./preview-worker.ts', import.meta.url), { type: 'module' });
    let told = false;
    const take = (message: PreviewMessage) => {
      setSeen(message);
      if (!told) tell.current(message.kind);
      told = true;
    };
    worker.onmessage = ({ data }: MessageEvent<PreviewMessage>) => take(data);
    // A browser that cannot look leaves it to the server.
    worker.onerror = () => take({ kind: 'packed' });
    worker.postMessage(file);
    return () => worker.terminate();
  }, [file]);
  return seen;
}

const NAMES = new Map(mappingTargets().map(({ key, name }) => [key, name]));

/** How a file reads, before the server has it: rows, encoding, and what its columns seem to mean. */
export function FileLook({
  file,
  onSeen,
  onSendAnyway,
}: {
  file: File;
  onSeen: (kind: PreviewMessage['kind']) => void;
  /** Sends a file that does not seem to read; null once it is on its way. */
  onSendAnyway: (() => void) | null;
}) {
  const seen = useLook(file, onSeen);
  if (!seen) return <p className="text-ink3">Looking into it…</p>;
  if (seen.kind === 'packed') return <p className="text-ink2">It is packed; the server opens it.</p>;
  if (seen.kind === 'message') return <p className="text-ink2">A message; the server reads what it says.</p>;
  if (seen.kind === 'records') return <p className="text-ink2">{seen.what}; the server makes a table of it.</p>;
  if (seen.kind === 'cards') return <p className="text-ink2">Cards (vCard): a row for each.</p>;
  if (seen.kind === 'wrong')
    return (
      <div className="flex flex-wrap items-baseline gap-3">
        <p className="text-alarm">{seen.why}</p>
        {onSendAnyway ? <Button onClick={onSendAnyway}>Send it all the same</Button> : null}
      </div>
    );
  const { shape, guesses, rows, rowCount, done } = seen.look;
  return (
    <figure aria-label={`First rows of ${file.name}`}>
      <figcaption className="text-ink2">
        {[done ? rowsOf(rowCount) : 'counting its rows', ...writtenAs(shape)].join(' · ')}
      </figcaption>
      <div className="mt-1.5 overflow-x-auto border border-hair bg-page">
        <table className="text-[12.5px]">
          <thead>
            <tr>
              {guesses.map((guess, i) => (
                <th
                  key={i}
                  scope="col"
                  className="max-w-44 min-w-28 truncate border-r border-b border-hair px-2 py-1 text-left align-top font-normal"
                >
                  <span className="block truncate font-mono text-ink2">{shape.headers[i] || '\u00a0'}</span>
                  <span className={guess.field && NAMES.has(guess.field) ? 'font-semibold' : 'text-ink3'}>
                    {(guess.field && NAMES.get(guess.field)) || 'not known'}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((cells, at) => (
              <tr key={at}>
                {guesses.map((_, i) => (
                  <td key={i} className="max-w-44 truncate border-r border-b border-hair px-2 py-0.5 font-mono">
                    {cells[i] ?? ''}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </figure>
  );
}

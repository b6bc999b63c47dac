import { useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { IntakeSummary } from '@gray-loom/wire';
import { api, uploadFile } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { Button, Failed, Fault, Heading, Loading, Notice } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count, rowsOf, When } from '../../ui/when';
import { outcomesInWords } from '@gray-loom/wire';
import { FileLook } from './file-look';

const STATES: Record<IntakeSummary['state'], string> = {
  read: 'read, waiting for its meaning',
  trying: 'being tried',
  tried: 'tried, waiting to be brought in',
  committing: 'on its way in',
  done: 'in',
  stopped: 'stopped on its way in',
};

/** What came in lately, and the way in for a file. */
export function IntakePage() {
  const touch = useTouch();
  const navigate = useNavigate();
  const intakes = useQuery({ queryKey: keys.intakes(), queryFn: () => api.get<IntakeSummary[]>('/intakes') });
  const [sending, setSending] = useState<{ file: File; done01: number | null; cancel: () => void } | null>(null);
  const [fault, setFault] = useState<unknown>(null);
  const mayEdit = useMay('editor');
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const drop = useMutation({
    mutationFn: (id: number) => api.delete(`/intakes/${id}`),
    onSuccess: () => touch('intakes'),
    onError: setFault,
  });
  useShortcut('f', 'Bring a file in', 'Intake', () => input.current?.click(), { needs: 'editor' });

  const take = (file: File | undefined) => {
    if (!mayEdit) return;
    if (!file) return;
    setFault(null);
    setSending({ file, done01: null, cancel: () => setSending(null) });
  };
  const send = async (file: File) => {
    const { done, cancel } = uploadFile(file, (done01) => setSending({ file, done01, cancel }));
    setSending({ file, done01: 0, cancel });
    try {
      const { id } = await done;
      void navigate(`/intake/${id}`);
    } catch (error) {
      setFault(error);
    } finally {
      setSending(null);
    }
  };

  return (
    <div
      className={`h-full overflow-y-auto px-6 py-5 ${over ? 'bg-picked' : ''}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        take(event.dataTransfer.files[0]);
      }}
    >
      <div className="mx-auto max-w-5xl">
        <div className="mb-5 flex items-center gap-4 border border-dashed border-strong bg-cloth px-5 py-4">
          <div>
            <p className="text-[15px] font-semibold">Bring a file in</p>
            <p className="text-ink2">
              Tables (CSV, tabs, semicolons, web pages, in any usual encoding), spreadsheets (.xlsx, a file for each
              sheet), records (JSON, LDIF), cards (vCard), messages (.eml, or a zip of them); also packed by gzip or
              zip. Drop it anywhere on this page. Nothing is written before you say so.
            </p>
          </div>
          <Button
            needs="editor"
            kind="action"
            keys="f"
            className="ml-auto"
            onClick={() => input.current?.click()}
            disabled={sending !== null && sending.done01 !== null}
          >
            Choose a file
          </Button>
          <input
            ref={input}
            type="file"
            aria-label="File to bring in"
            className="sr-only"
            tabIndex={-1}
            onChange={(event) => {
              take(event.target.files?.[0]);
              event.target.value = '';
            }}
          />
        </div>
        {sending ? (
          <section className="mb-4 space-y-2 border border-hair bg-cloth px-4 py-3" aria-label={sending.file.name}>
            <p role="status" className="flex items-center gap-3">
              <strong className="truncate font-semibold">{sending.file.name}</strong>
              {sending.done01 === null ? null : sending.done01 < 1 ? (
                <>
                  <progress value={sending.done01} max={1} aria-label={`Sending ${sending.file.name}`} />
                  {Math.round(sending.done01 * 100)}%
                </>
              ) : (
                <>
                  <progress aria-label={`Reading ${sending.file.name}`} />
                  Sent, now being read. A very large spreadsheet takes a minute.
                </>
              )}
              <button type="button" className="link" onClick={sending.cancel}>
                {sending.done01 === null ? 'Leave it' : 'Stop'}
              </button>
            </p>
            <FileLook
              key={`${sending.file.name}:${sending.file.lastModified}:${sending.file.size}`}
              file={sending.file}
              onSeen={(kind) => {
                if (kind !== 'wrong') void send(sending.file);
              }}
              onSendAnyway={sending.done01 === null ? () => void send(sending.file) : null}
            />
          </section>
        ) : null}
        {fault ? (
          <div className="mb-4">
            <Fault error={fault} onClose={() => setFault(null)} />
          </div>
        ) : null}
        <Heading
          aside={
            <Link to="/intake/held" className="link">
              All held rows
            </Link>
          }
        >
          Came in lately
        </Heading>
        {intakes.isPending ? <Loading what="what came in" /> : null}
        {intakes.error ? <Failed error={intakes.error} retry={() => void intakes.refetch()} /> : null}
        {intakes.data?.length === 0 ? (
          <Notice title="Nothing has come in yet">Choose a file to begin with.</Notice>
        ) : null}
        <ul>
          {intakes.data?.map((one) => (
            <li
              key={one.id}
              className="grid grid-cols-[15px_minmax(0,1.2fr)_minmax(0,1.6fr)_64px_36px] items-baseline gap-3 border-b border-hair py-2"
            >
              <ThreadSwatch kind="file" />
              <Link to={`/intake/${one.id}`} className="truncate font-semibold hover:underline">
                {one.name}
              </Link>
              <span className="truncate text-ink2">
                {one.undone
                  ? 'taken back'
                  : one.importRun && one.state !== 'committing'
                    ? outcomesInWords(one.counts)
                    : `${rowsOf(one.rowCount)}, ${STATES[one.state]}`}
                {one.held > 0 ? (
                  <>
                    {' · '}
                    <Link to={`/intake/held/${one.importRun}`} className="link">
                      {count(one.held)} held
                    </Link>
                  </>
                ) : null}
              </span>
              <span className="text-right text-ink3">
                <When at={one.createdAt} />
              </span>
              {one.importRun ? (
                <Link to={`/ledger/${one.importRun}`} className="link justify-self-end text-ink2">
                  run
                </Link>
              ) : mayEdit ? (
                <button type="button" className="link justify-self-end text-ink2" onClick={() => drop.mutate(one.id)}>
                  drop
                </button>
              ) : null}
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

import { useMutation, useQuery } from '@tanstack/react-query';
import { useRef, useState, type DragEvent } from 'react';
import { Link } from 'react-router';
import { FILE_LIMIT_BYTES, shownAs, typeInWords, type FileContent } from '@gray-loom/core/activity';
import type { ActivityChanged, ActivityEntry, ActivityPage } from '@gray-loom/wire';
import { api, sendFile } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault } from '../../ui/controls';
import { Modal } from '../../ui/modal';
import { localDay, sizeInWords, whenOf } from './activity-words';

const LIMIT_WORDS = `${FILE_LIMIT_BYTES / 1024 / 1024} MB`;
/** Files that are fetched at once. */
const PAGE = 200;

type FileEntry = ActivityEntry & { activity: { file: FileContent } };
/** A file on its way: how far it is, or why it was not kept. */
interface Sending {
  name: string;
  done01: number;
  fault: string;
}

/** Files kept on a contact: put here by drag or choice, shown, renamed and removed. */
export function FilesSection({ contactId, readOnly }: { contactId: number; readOnly: boolean }) {
  const touch = useTouch();
  const input = useRef<HTMLInputElement>(null);
  const [isOver, setIsOver] = useState(false);
  const [sending, setSending] = useState<readonly Sending[]>([]);
  const [shown, setShown] = useState<FileEntry | null>(null);
  const files = useQuery({
    queryKey: keys.activities(contactId, 'files'),
    queryFn: () => api.get<ActivityPage>(`/contacts/${contactId}/activities?kinds=file&limit=${PAGE}`),
  });
  const list = (files.data?.entries ?? []).filter((entry): entry is FileEntry => entry.activity.file !== null);
  const total = files.data?.counts.file ?? 0;

  const say = (name: string, parts: Partial<Sending>) =>
    setSending((now) => now.map((one) => (one.name === name ? { ...one, ...parts } : one)));
  const put = async (chosen: readonly File[]) => {
    const begun = chosen.map((file) => ({
      name: file.name,
      done01: 0,
      // Said before anything is sent.
      fault:
        file.size > FILE_LIMIT_BYTES
          ? `‘${file.name}’ has ${sizeInWords(file.size)}; at most ${LIMIT_WORDS} are kept of one file. Nothing was sent.`
          : '',
    }));
    setSending((now) => [...now.filter(({ name }) => !chosen.some((file) => file.name === name)), ...begun]);
    // One after the other, so that one that fails stops no other.
    for (const [i, file] of chosen.entries()) {
      if (begun[i]?.fault) continue;
      try {
        await sendFile(`/contacts/${contactId}/files`, file, (done01) => say(file.name, { done01 })).done;
        setSending((now) => now.filter(({ name }) => name !== file.name));
        await touch('contacts', 'run');
      } catch (error) {
        say(file.name, { fault: error instanceof Error ? error.message : 'It could not be sent. Try again.' });
      }
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setIsOver(false);
    void put([...event.dataTransfer.files]);
  };
  const takesFiles = (event: DragEvent) => !readOnly && event.dataTransfer.types.includes('Files');

  return (
    <section
      className={`mt-5 ${isOver ? 'outline-2 outline-offset-4 outline-action outline-dashed' : ''}`}
      aria-label="Files"
      onDragOver={(event) => {
        if (!takesFiles(event)) return;
        event.preventDefault();
        setIsOver(true);
      }}
      onDragLeave={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) setIsOver(false);
      }}
      onDrop={readOnly ? undefined : drop}
    >
      <h3 className="flex flex-wrap items-baseline gap-x-3 border-b border-strong pb-1 font-semibold">
        Files
        {readOnly ? null : (
          <span className="ml-auto font-normal text-ink2">
            <button type="button" className="hover:text-ink" onClick={() => input.current?.click()}>
              + file
            </button>
          </span>
        )}
      </h3>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Choose files"
        onChange={(event) => {
          const chosen = [...(event.target.files ?? [])];
          // The same file can be chosen again.
          event.target.value = '';
          void put(chosen);
        }}
      />
      {files.isLoadingError ? <Failed error={files.error} retry={() => void files.refetch()} /> : null}
      {sending.map(({ name, done01, fault }) =>
        fault ? (
          <Fault key={name} error={fault} onClose={() => setSending((now) => now.filter((one) => one.name !== name))} />
        ) : (
          <p key={name} role="status" className="py-1 text-ink2">
            Sending {name}, {Math.round(done01 * 100)}%
          </p>
        ),
      )}
      <ul>
        {list.map((entry) => (
          <FileLine
            key={entry.id}
            entry={entry}
            contactId={contactId}
            readOnly={readOnly}
            onShow={() => setShown(entry)}
          />
        ))}
      </ul>
      {total > list.length && list.length ? (
        <p className="py-1 text-[12.5px] text-ink2">
          The latest {list.length} of {total}. The others stand under Activity.
        </p>
      ) : null}
      {readOnly ? (
        list.length ? null : (
          <p className="py-1 text-ink3">No files.</p>
        )
      ) : (
        <p className="py-1 text-[12.5px] text-ink3">
          {list.length ? '' : 'No files yet. '}Drag files here, up to {LIMIT_WORDS} each; programs are not kept.
        </p>
      )}
      {shown ? <ShownFile entry={shown} onClose={() => setShown(null)} /> : null}
    </section>
  );
}

interface FileLineProps {
  entry: FileEntry;
  contactId: number;
  readOnly: boolean;
  onShow: () => void;
}

function FileLine({ entry, contactId, readOnly, onShow }: FileLineProps) {
  const touch = useTouch();
  const { id, version, activity, contact, who } = entry;
  const { what: name, file } = activity;
  const [renaming, setRenaming] = useState<string | null>(null);
  const after = () => touch('contacts', 'run');
  const rename = useMutation({
    mutationFn: (what: string) => api.patch<ActivityChanged>(`/activities/${id}`, { version, what }),
    onSuccess: async () => {
      await after();
      setRenaming(null);
    },
  });
  const remove = useMutation({ mutationFn: () => api.delete(`/activities/${id}`), onSuccess: after });
  const shows = shownAs(file.mediaType);
  return (
    <li className="group flex items-start gap-3 border-b border-hair py-1.5">
      {shows === 'picture' ? (
        <button type="button" aria-label={`Show ${name}`} onClick={onShow}>
          <img
            src={`/api/activities/${id}/picture?edge=96`}
            alt=""
            loading="lazy"
            className="size-10 border border-hair object-cover"
            onError={(event) => {
              event.currentTarget.style.visibility = 'hidden';
            }}
          />
        </button>
      ) : (
        <span
          aria-hidden
          className="flex size-10 shrink-0 items-center justify-center border border-hair bg-cloth text-[10px] font-semibold text-ink2"
        >
          {(/\.([A-Za-z0-9]{1,4})$/.exec(name)?.[1] ?? 'file').toUpperCase()}
        </span>
      )}
      <div className="min-w-0 flex-1">
        <Fault error={rename.error ?? remove.error} onClose={() => (rename.reset(), remove.reset())} />
        {renaming === null ? (
          shows ? (
            <button type="button" className="link text-left break-all" onClick={onShow}>
              {name}
            </button>
          ) : (
            <a className="link break-all" href={`/api/activities/${id}/file`} download={name}>
              {name}
            </a>
          )
        ) : (
          <form
            className="flex gap-2"
            aria-label={`Rename ${name}`}
            onSubmit={(event) => {
              event.preventDefault();
              rename.mutate(renaming);
            }}
            onKeyDown={(event) => event.key === 'Escape' && setRenaming(null)}
          >
            <input
              aria-label="Name of the file"
              className="field min-w-0 flex-1"
              autoFocus
              required
              maxLength={200}
              value={renaming}
              onChange={(event) => setRenaming(event.target.value)}
            />
            <Button type="submit" busy={rename.isPending}>
              Rename
            </Button>
          </form>
        )}
        <p className="text-[12.5px] text-ink2">
          <span className="float-right flex gap-2 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 max-sm:opacity-100">
            <a
              className="hover:text-ink"
              href={`/api/activities/${id}/file`}
              download={name}
              aria-label={`Save ${name}`}
            >
              save
            </a>
            {readOnly ? null : (
              <>
                <button
                  type="button"
                  className="hover:text-ink"
                  aria-label={`Rename ${name}`}
                  onClick={() => setRenaming(name)}
                >
                  rename
                </button>
                <button
                  type="button"
                  className="hover:text-alarm"
                  aria-label={`Remove ${name}`}
                  onClick={() => remove.mutate()}
                >
                  remove
                </button>
              </>
            )}
          </span>
          {typeInWords(file.mediaType)}, {sizeInWords(file.bytes)} ·{' '}
          {whenOf({ at: activity.at && localDay(activity.at), end: null })}
          {who ? ` · ${who}` : ''}
          {contact.id === contactId ? null : (
            <>
              {' · '}
              <Link className="link" to={`/contacts/${contact.id}`}>
                {contact.name}
              </Link>
            </>
          )}
        </p>
      </div>
    </li>
  );
}

/** A picture, drawn anew, or a PDF in the browser’s own reader. */
function ShownFile({ entry, onClose }: { entry: FileEntry; onClose: () => void }) {
  const { id, activity } = entry;
  const [fault, setFault] = useState('');
  const address = `/api/activities/${id}/file`;
  return (
    <Modal title={activity.what} onClose={onClose} width={900}>
      {fault ? <p className="py-6 text-alarm">{fault}</p> : null}
      {shownAs(activity.file.mediaType) === 'picture' ? (
        <img
          src={`/api/activities/${id}/picture`}
          alt={activity.what}
          className={`mx-auto max-h-[64vh] ${fault ? 'hidden' : ''}`}
          onError={() => setFault('This picture is damaged or too large to be shown. Save it to look at it.')}
        />
      ) : (
        <iframe title={activity.what} src={`${address}?show=true`} className="h-[64vh] w-full border border-hair" />
      )}
      <p className="mt-3 flex gap-3">
        <a className="link" href={address} download={activity.what}>
          Save
        </a>
        <button type="button" className="link" onClick={onClose}>
          Close
        </button>
      </p>
    </Modal>
  );
}

import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { WholeFileSetting } from '@gray-loom/core/mapping';
import type { SavedMapping } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { SheetHead } from '../../ui/sheet-head';
import { SETTING_WORDS } from '../intake/read-as';
import { SplitView } from '../../ui/split-view';
import { count, When } from '../../ui/when';

/** Mappings as files were last brought in by them; the next file of the layout is read so. */
export function MappingsPage() {
  const [params, setParams] = useSearchParams();
  const saved = useQuery({ queryKey: keys.savedMappings(), queryFn: () => api.get<SavedMapping[]>('/saved-mappings') });
  if (saved.isPending) return <Loading what="the saved mappings" />;
  if (saved.isLoadingError) return <Failed error={saved.error} retry={() => void saved.refetch()} />;
  const picked = saved.data.find((one) => String(one.id) === params.get('mapping'));
  const pick = (id: number | null) => setParams(id ? { mapping: String(id) } : {}, { replace: true });
  return (
    <SplitView
      list={
        <div className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
          <Heading aside={count(saved.data.length)}>Saved mappings</Heading>
          <p className="py-1.5 text-ink2">
            Kept by themselves when a file is brought in. The next file with the same headings is read the same way, and
            what differs is said.
          </p>
          {saved.data.length === 0 ? <p className="py-2 text-ink2">None yet.</p> : null}
          <ul>
            {saved.data.map((one) => (
              <li key={one.id}>
                <button
                  type="button"
                  aria-current={one === picked || undefined}
                  className={
                    `grid w-full grid-cols-[minmax(0,1fr)_7rem_7rem] gap-3 border-b border-hair py-1 ` +
                    `text-left ${one === picked ? 'bg-picked' : 'hover:bg-cloth'}`
                  }
                  onClick={() => pick(one.id)}
                >
                  <span className="truncate">{one.name}</span>
                  <span className="text-ink2">{one.used === 1 ? 'used once' : `used ${count(one.used)} times`}</span>
                  <span className="text-right text-ink2">
                    <When at={one.usedAt} /> ago
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
      }
      sheet={picked ? <MappingSheet key={picked.id} saved={picked} onClose={() => pick(null)} /> : null}
    />
  );
}

function MappingSheet({ saved, onClose }: { saved: SavedMapping; onClose: () => void }) {
  const touch = useTouch();
  const [name, setName] = useState(saved.name);
  const refresh = () => touch('mappings');
  const rename = useMutation({
    mutationFn: () => api.patch(`/saved-mappings/${saved.id}`, { name }),
    onSuccess: refresh,
  });
  const leaveOut = useMutation({
    mutationFn: (without: WholeFileSetting) => api.patch(`/saved-mappings/${saved.id}`, { without }),
    onSuccess: refresh,
  });
  const forget = useMutation({
    mutationFn: () => api.delete(`/saved-mappings/${saved.id}`),
    onSuccess: async () => {
      onClose();
      await refresh();
    },
  });
  return (
    <article className="space-y-4 px-4.5 py-3.5">
      <SheetHead title={saved.name} onClose={onClose} />
      <Fault
        error={rename.error ?? leaveOut.error ?? forget.error}
        onClose={() => [rename, leaveOut, forget].forEach((one) => one.reset())}
      />
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          rename.mutate();
        }}
      >
        <input
          aria-label="Name of the saved mapping"
          className="field min-w-0 flex-1"
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit" busy={rename.isPending} disabled={name === saved.name}>
          Rename
        </Button>
      </form>
      {saved.settings.length ? (
        <section>
          <h3 className="font-semibold">Every row also gets</h3>
          <ul>
            {saved.settings.map((setting) => (
              <li key={setting.what + setting.value} className="flex items-baseline gap-3 border-b border-hair py-1">
                <span className="w-16 text-ink2">{SETTING_WORDS[setting.what]}</span>
                <span className="min-w-0 flex-1 truncate">{setting.value}</span>
                <Button
                  needs="editor"
                  kind="quiet"
                  busy={leaveOut.isPending}
                  aria-label={`Leave out from the next file on: ${SETTING_WORDS[setting.what]} ${setting.value}`}
                  onClick={() => leaveOut.mutate(setting)}
                >
                  Leave out
                </Button>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      <dl>
        {saved.columns.map((column, i) => (
          <div key={i} className="grid grid-cols-2 gap-3 border-b border-hair py-1">
            <dt className="truncate font-mono text-[12.5px] text-ink2">{column.header ?? 'no heading'}</dt>
            <dd className={column.meaning ? '' : 'text-ink3'}>
              {column.meaning ?? 'left out'}
              {column.label ? `, ${column.label}` : ''}
            </dd>
          </div>
        ))}
      </dl>
      <p>
        <a className="link" href={`/api/saved-mappings/${saved.id}/sample.csv`} download>
          Sample file to start from
        </a>
      </p>
      <Button busy={forget.isPending} onClick={() => forget.mutate()}>
        Forget it
      </Button>
    </article>
  );
}

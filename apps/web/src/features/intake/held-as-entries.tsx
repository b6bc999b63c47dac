import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ROW_KINDS, type ActivityKind } from '@gray-loom/core/activity';
import type { HeldList } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useTouch } from '../../app/keys';
import { Button, Fault } from '../../ui/controls';
import { count } from '../../ui/when';
import { nameOfKinds } from '../activity/activity-words';

type More = HeldList['more'][number];

/** Rows that say more of people who came in with other rows: let in as entries of their activity, all at once. */
export function AsEntries({ runId, fileName, count: n, kind: likely, namesFile }: More & { namesFile: boolean }) {
  const touch = useTouch();
  const [kind, setKind] = useState(likely as ActivityKind);
  const letIn = useMutation({
    mutationFn: () =>
      api.post<{ letIn: number; held: number; runId: number | null }>(`/held/${runId}/entries`, { kind }),
    onSuccess: () => touch('held', 'contacts', 'run', 'intakes'),
  });
  const { data } = letIn;
  return (
    <div className="border-b border-hair bg-wash">
      <Fault error={letIn.error} onClose={() => letIn.reset()} />
      <form
        className="flex flex-wrap items-center gap-3 px-3.5 py-1.5"
        aria-label="Let in as entries"
        onSubmit={(event) => {
          event.preventDefault();
          letIn.mutate();
        }}
      >
        <span className="min-w-0 flex-1 text-ink2">
          {n === 1 ? '1 row' : `${count(n)} rows`}
          {namesFile ? ` of ${fileName}` : ''} {n === 1 ? 'says' : 'say'} more of people who came in with other rows.
          They can come in as entries of their activity; what the first row of each says stays as it is.
        </span>
        <select
          aria-label="What the rows tell of"
          className="field"
          value={kind}
          onChange={(event) => setKind(event.target.value as ActivityKind)}
        >
          {ROW_KINDS.map((one) => (
            <option key={one} value={one}>
              as {nameOfKinds(one)}
            </option>
          ))}
        </select>
        <Button needs="editor" type="submit" busy={letIn.isPending}>
          Let {n === 1 ? 'it' : 'them'} in
        </Button>
      </form>
      {data ? (
        <p role="status" className="px-3.5 pb-1.5 text-ink2">
          {data.letIn ? `${count(data.letIn)} came in. ` : 'None could come in. '}
          {data.held ? `${count(data.held)} stay held; each says why. ` : ''}
          {data.runId ? (
            <Link className="link" to={`/ledger/${data.runId}`}>
              See the run
            </Link>
          ) : null}
        </p>
      ) : null}
    </div>
  );
}

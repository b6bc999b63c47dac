import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { batchInWords, type BatchStarted, type BatchTrial, type BatchWhat } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useTouch } from '../../app/keys';
import { Button, Fault } from '../../ui/controls';
import { Modal } from '../../ui/modal';
import { count } from '../../ui/when';
import { useKnown } from '../segments/names';
import { BATCH_KINDS, changeOf, FIRST_DRAFT, type BatchDraft } from './batch-draft';
import { DraftFields } from './draft-fields';

interface BatchDialogProps {
  what: Partial<BatchWhat>;
  /** Whom it is about, in words: "these 1,204 people". */
  words: string;
  /** They are deleted: all that can be done is to bring them back. */
  areDeleted?: boolean;
  onClose: () => void;
  onDone: () => void;
}

/** A change of many contacts: said, tried, done as one run with one undo. */
export function BatchDialog({ what, words, areDeleted = false, onClose, onDone }: BatchDialogProps) {
  const touch = useTouch();
  const known = useKnown();
  const [draft, setDraft] = useState<BatchDraft>({ ...FIRST_DRAFT, ...(areDeleted ? { kind: 'restore' } : {}) });
  const change = changeOf(draft);
  const asked = JSON.stringify(change);
  const attempt = useMutation({
    mutationFn: (body: string) =>
      api
        .post<BatchTrial>('/batch/trial', { what, change: JSON.parse(body) as unknown })
        .then((trial) => ({ trial, body })),
  });
  const start = useMutation({
    mutationFn: () => api.post<BatchStarted>('/batch', { what, change }),
    onSuccess: async () => {
      await touch('contacts', 'run', 'setup', 'segments', 'syncs');
      onDone();
    },
  });
  const trial = attempt.data?.body === asked ? attempt.data.trial : null;
  return (
    <Modal title={`Change ${words}`} width={640} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (trial?.changes) start.mutate();
          else if (change) attempt.mutate(asked);
        }}
      >
        {areDeleted ? (
          <p>They come back as they were.</p>
        ) : (
          <>
            <label className="flex items-center gap-2">
              <span className="w-24 text-ink2">What</span>
              <select
                className="field"
                value={draft.kind}
                autoFocus
                onChange={(event) =>
                  setDraft({ ...draft, kind: event.target.value as BatchDraft['kind'], field: '', text: '' })
                }
              >
                {BATCH_KINDS.filter(([kind]) => kind !== 'sync' || known.choices?.connections.length).map(
                  ([kind, text]) => (
                    <option key={kind} value={kind}>
                      {text}
                    </option>
                  ),
                )}
              </select>
            </label>
            <DraftFields draft={draft} known={known} onChange={setDraft} />
          </>
        )}
        <Fault error={attempt.error ?? start.error} />
        {trial ? <Trial trial={trial} /> : null}
        <div className="mt-4 flex items-center gap-3">
          {trial?.changes ? (
            <Button kind={draft.kind === 'delete' ? 'danger' : 'action'} type="submit" busy={start.isPending}>
              {draft.kind === 'delete' ? 'Delete' : draft.kind === 'restore' ? 'Bring back' : 'Change'}{' '}
              {trial.isSample ? `about ${count(trial.changes)}` : count(trial.changes)}
            </Button>
          ) : (
            <Button kind="action" type="submit" busy={attempt.isPending} disabled={!change}>
              Try it
            </Button>
          )}
          <span className="text-[12px] text-ink2">
            {trial ? 'One run, with one undo.' : 'Nothing is written by a trial.'}
          </span>
        </div>
      </form>
    </Modal>
  );
}

/** What a trial says: how many change, are so already, are left and why, and some of them before and after. */
function Trial({ trial }: { trial: BatchTrial }) {
  return (
    <div className="mt-4 border-t border-hair pt-3" role="status">
      <p className="font-semibold">{batchInWords(trial)}</p>
      <p className="text-[12px] text-ink2">
        {trial.isSample
          ? `Reckoned from ${count(trial.looked)} of ${count(trial.concerns)} that were looked at. Each is looked at when it is changed.`
          : `All ${count(trial.looked)} were looked at one by one.`}{' '}
        Whom it is about is fixed when it starts.
      </p>
      <table className="mt-2 w-full">
        <tbody>
          {trial.examples.map((one) => (
            <tr key={one.id} className="border-b border-hair">
              <td className="py-0.5 pr-3">{one.name}</td>
              <td className="py-0.5 pr-3 text-ink2">{one.before}</td>
              <td className="py-0.5 font-semibold">{one.after}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

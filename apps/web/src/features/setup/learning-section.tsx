import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { LearningLook } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Failed, Heading, Loading } from '../../ui/controls';
import { count, When } from '../../ui/when';

/** What people decided so far, what it would teach, and what would move by it, before it is put in force. */
export function LearningSection() {
  const touch = useTouch();
  const learning = useQuery({
    queryKey: keys.duplicates('learning'),
    queryFn: () => api.get<LearningLook>('/duplicates/learning'),
  });
  const change = useMutation({
    mutationFn: (adopt: boolean) => (adopt ? api.post('/duplicates/learning') : api.delete('/duplicates/learning')),
    onSettled: () => touch('groups', 'run'),
  });
  return (
    <section aria-label="What people decided">
      <Heading>What people decided</Heading>
      {learning.isPending ? (
        <Loading what="what was decided" />
      ) : learning.error ? (
        <Failed error={learning.error} retry={() => void learning.refetch()} />
      ) : (
        <Learning look={learning.data} />
      )}
      <div className="mt-2 flex items-center gap-2">
        <Button
          kind="action"
          disabled={!learning.data?.trial}
          busy={change.isPending}
          onClick={() => change.mutate(true)}
        >
          Let decisions count
        </Button>
        {learning.data?.adopted ? (
          <Button busy={change.isPending} onClick={() => change.mutate(false)}>
            By the data alone again
          </Button>
        ) : null}
      </div>
      {change.error ? (
        <p role="alert" className="text-alarm">
          {change.error.message}
        </p>
      ) : null}
    </section>
  );
}

function Learning({ look }: { look: LearningLook }) {
  const { same, apart, needed, adopted, trial } = look;
  const all = same + apart;
  return (
    <div className="max-w-2xl space-y-1.5">
      <p className="text-ink2">
        Each pair that a person merged or kept apart says how much its agreements are worth here.{' '}
        {adopted ? (
          <>
            {count(adopted.same + adopted.apart)} decisions count since <When at={adopted.at} /> ago.
          </>
        ) : (
          'So far none of them counts.'
        )}
      </p>
      <p>
        {count(same)} {same === 1 ? 'pair was' : 'pairs were'} merged one by one, {count(apart)} kept apart.
        {trial
          ? ''
          : ` It takes ${needed.all}, with ${needed.ofEachKind} of each kind at least, to learn something that holds.`}
      </p>
      {trial ? (
        <>
          <p>
            The weights lie on the side of {count(trial.right.now)} of these {count(all)}; with what they teach, of{' '}
            {count(trial.right.then)}.
          </p>
          <p className="font-semibold">
            {trial.moves.length
              ? `Of ${count(trial.pairs)} pairs that wait, ${count(trial.moves.reduce((sum, { pairs }) => sum + pairs, 0))} would move: ${trial.moves
                  .map(({ from, to, pairs }) => `${count(pairs)} from ${from} to ${to}`)
                  .join(', ')}.`
              : `None of the ${count(trial.pairs)} pairs that wait would move.`}
          </p>
          {trial.examples.length ? (
            <ul aria-label="Pairs that would move" className="border-t border-hair">
              {trial.examples.map((example, i) => (
                <li key={i} className="flex gap-3 border-b border-hair py-0.5">
                  <Link className="link min-h-6 truncate" to={`/duplicates/${example.groupId}`}>
                    {example.name}
                  </Link>
                  <span className="ml-auto whitespace-nowrap">
                    {example.from} → {example.to}
                  </span>
                  <span className="w-20 text-right text-ink2 tabular-nums">
                    {example.bits > 0 ? '+' : '−'}
                    {Math.abs(example.bits).toFixed(1)} bits
                  </span>
                </li>
              ))}
            </ul>
          ) : null}
          <p className="text-[12.5px] text-ink2">
            Pairs that nobody was asked about so far are found by the scan that follows.
          </p>
        </>
      ) : null}
    </div>
  );
}

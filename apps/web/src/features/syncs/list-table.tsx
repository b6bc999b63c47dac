import { useQuery } from '@tanstack/react-query';
import { Fragment, useState } from 'react';
import { Link } from 'react-router';
import type { ByHand, ListLine } from '@gray-loom/core/syncing';
import type { ConnectionDetail, ListDifference, Lists, ListStanding, SegmentChoices } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { Combobox } from '../../ui/combobox';
import { Heading } from '../../ui/controls';
import { count, When } from '../../ui/when';

const BY_HAND_WORDS: [ByHand, string][] = [
  ['ask', 'asks'],
  ['putRight', 'is put right'],
  ['leave', 'is left so'],
];

export function useStandings(id: number) {
  return useQuery({
    queryKey: keys.connectionLists(id),
    queryFn: () => api.get<ListStanding[]>(`/connections/${id}/lists`),
  });
}

const freshId = (lines: readonly ListLine[]): string => {
  for (let n = lines.length + 1; ; n++) if (!lines.some(({ id }) => id === `list-${n}`)) return `list-${n}`;
};

/** What differs, in a few words. */
function differsInWords({ direction, notLinked, differs, asked }: ListStanding): string {
  if (direction === 'in') return '';
  return [
    differs ? `${count(differs)} on one side only` : '',
    asked ? `${count(asked)} asked about` : '',
    notLinked ? `${count(notLinked)} not over there` : '',
  ]
    .filter(Boolean)
    .join(', ');
}

const cell = 'py-1 pr-2 align-baseline';

function Head({ edits }: { edits: boolean }) {
  return (
    <thead className="text-left text-[12.5px] text-ink2">
      <tr className="border-b border-strong">
        <th className="w-[20%] py-1 font-normal">Here</th>
        <th className="w-9 font-normal" aria-label="Direction" />
        <th className="w-[20%] font-normal">List over there</th>
        <th className="w-[13%] font-normal">By hand there</th>
        <th className="w-16 text-right font-normal">Here</th>
        <th className="w-16 pr-3 text-right font-normal">There</th>
        <th className="font-normal">What differs</th>
        <th className="w-16 font-normal">Changed</th>
        {edits ? <th className="w-7" aria-label="Take out" /> : null}
      </tr>
    </thead>
  );
}

function Numbers({ standing }: { standing: ListStanding | undefined }) {
  return (
    <>
      <td className="text-right tabular-nums">{standing ? count(standing.here) : ''}</td>
      <td className="pr-3 text-right tabular-nums">
        {standing ? standing.isThere ? count(standing.there) : <span className="text-ink3">none yet</span> : ''}
      </td>
    </>
  );
}

/** The set-up of lists: segments that are lists over there, and lists that are tags here, with how each stands. */
export function ListTable({
  lines,
  data,
  lists,
  segments,
  onChange,
}: {
  lines: ListLine[];
  data: ConnectionDetail;
  lists: Lists | undefined;
  segments: SegmentChoices['segments'];
  onChange: (lines: ListLine[]) => void;
}) {
  const standings = useStandings(data.id).data ?? [];
  const set = (id: string, change: Partial<ListLine>) =>
    onChange(lines.map((line) => (line.id === id ? { ...line, ...change } : line)));
  const known = data.capabilities.knownLabels;
  const labels = [...new Set([...known, ...lines.map(({ label }) => label)])].map((label) => ({
    value: label,
    text: label,
    ...(known.includes(label) ? {} : { hint: 'is made' }),
  }));
  const people = segments.filter(({ kind }) => kind === 'person');
  const unused = people.filter(({ id }) => !lines.some((line) => line.direction === 'out' && line.segment === id));
  const tags = (lists?.tags ?? []).map(({ label }) => ({ value: label, text: label }));
  const nameOf = (id: number) => people.find((one) => one.id === id)?.name ?? 'choose';
  const fresh = (all: readonly ListLine[], more: Partial<ListLine>): ListLine => ({
    id: freshId(all),
    direction: 'out',
    segment: 0,
    tag: '',
    label: '',
    byHand: 'ask',
    ...more,
  });
  const addSegments = (ids: readonly number[]) =>
    onChange(
      ids.reduce<ListLine[]>(
        (all, id) => [...all, fresh(all, { segment: id, label: nameOf(id).slice(0, 200) })],
        lines,
      ),
    );
  const inside = data.capabilities.listsInside;
  return (
    <>
      {lines.length ? (
        <table className="w-full table-fixed">
          <Head edits />
          <tbody>
            {lines.map((line) => {
              const standing = standings.find(({ id }) => id === line.id);
              const isOut = line.direction === 'out';
              return (
                <tr key={line.id} className="border-b border-hair">
                  <td className={cell}>
                    <Combobox
                      label={isOut ? 'Segment' : 'Tag'}
                      value={isOut ? String(line.segment) : line.tag}
                      choices={isOut ? people.map(({ id, name }) => ({ value: String(id), text: name })) : tags}
                      onChoose={(value) => set(line.id, isOut ? { segment: Number(value) } : { tag: value })}
                      {...(isOut
                        ? {}
                        : {
                            onCreate: (tag: string) => set(line.id, { tag }),
                            createText: (tag: string) => `New tag “${tag}”`,
                          })}
                      className="field w-full truncate text-left"
                    >
                      {isOut ? nameOf(line.segment) : line.tag || 'choose a tag'}
                    </Combobox>
                  </td>
                  <td
                    className="text-center"
                    title={isOut ? 'the list follows the segment' : 'the tag follows the list'}
                  >
                    {isOut ? '→' : '←'}
                  </td>
                  <td className={cell}>
                    <Combobox
                      label="List over there"
                      value={line.label}
                      choices={labels}
                      onChoose={(label) => set(line.id, { label })}
                      onCreate={(label) => set(line.id, { label })}
                      createText={(label) => `New list “${label}”`}
                      className="field w-full truncate text-left"
                    >
                      {line.label || 'choose a list'}
                    </Combobox>
                  </td>
                  <td className={cell}>
                    {isOut ? (
                      <select
                        className="field w-full"
                        aria-label={`What is changed by hand in ${line.label}`}
                        value={line.byHand}
                        onChange={(event) => set(line.id, { byHand: event.target.value as ByHand })}
                      >
                        {BY_HAND_WORDS.map(([value, words]) => (
                          <option key={value} value={value}>
                            {words}
                          </option>
                        ))}
                      </select>
                    ) : (
                      <span className="text-ink2">is taken in</span>
                    )}
                  </td>
                  <Numbers standing={standing} />
                  <td className="text-[12.5px] text-ink2">{standing ? differsInWords(standing) : 'not saved yet'}</td>
                  <td className="text-[12.5px] text-ink2">{standing?.lastAt ? <When at={standing.lastAt} /> : ''}</td>
                  <td>
                    <button
                      type="button"
                      className="px-1 text-ink3 hover:text-ink"
                      aria-label={`Take out ${line.label || 'this list'}`}
                      onClick={() => onChange(lines.filter(({ id }) => id !== line.id))}
                    >
                      ×
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      ) : (
        <p className="py-2 text-ink2">
          No segment is a list over there yet. A list that follows a segment stays right as people enter and leave it,
          also as days pass{inside ? `; “Letters${inside}Spring” is the part Spring of the list Letters` : ''}.
        </p>
      )}
      <p className="mt-1 flex gap-4">
        <Combobox
          label="Add a segment as a list"
          value={null}
          choices={unused.map(({ id, name }) => ({ value: String(id), text: name }))}
          onChoose={(id) => addSegments([Number(id)])}
          className="text-ink2 hover:text-ink"
        >
          + segment as a list
        </Combobox>
        {unused.length > 1 ? (
          <button
            type="button"
            className="text-ink2 hover:text-ink"
            onClick={() => addSegments(unused.map(({ id }) => id))}
          >
            + all {count(unused.length)} other segments
          </button>
        ) : null}
        <Combobox
          label="Add a list as a tag"
          value={null}
          choices={labels.filter(({ value }) => !lines.some(({ label }) => label === value))}
          onChoose={(label) =>
            onChange([...lines, fresh(lines, { direction: 'in', label, tag: label.toLowerCase(), byHand: 'putRight' })])
          }
          className="text-ink2 hover:text-ink"
        >
          + list as a tag
        </Combobox>
      </p>
    </>
  );
}

const WHY: Record<ListDifference['why'], string> = {
  notLinked: 'has no entry over there',
  onlyHere: 'belongs in it, and is not',
  onlyThere: 'is in it, and does not belong',
};

function Differences({ connection, list }: { connection: number; list: string }) {
  const { data } = useQuery({
    queryKey: keys.connectionList(connection, list),
    queryFn: () => api.get<ListDifference[]>(`/connections/${connection}/lists/${encodeURIComponent(list)}`),
  });
  if (!data) return <p className="py-1 text-ink2">Looking.</p>;
  return (
    <ul className="columns-2 gap-8 py-1">
      {data.map(({ contactId, name, why }) => (
        <li key={`${contactId} ${why}`} className="truncate">
          <Link className="link" to={`/contacts/${contactId}`}>
            {name}
          </Link>{' '}
          <span className="text-[12.5px] text-ink2">{WHY[why]}</span>
        </li>
      ))}
    </ul>
  );
}

/** How the lists of a connection stand, on its page. */
export function ConnectionLists({ connection }: { connection: ConnectionDetail }) {
  const standings = useStandings(connection.id);
  const [open, setOpen] = useState('');
  const rows = standings.data ?? [];
  if (!connection.setup.lists?.length || !rows.length) return null;
  const off = rows.filter(({ differs }) => differs > 0).length;
  return (
    <section aria-label="Lists">
      <Heading
        aside={off ? `${count(off)} of ${count(rows.length)} differ` : `${count(rows.length)}, all as they should be`}
      >
        Lists
      </Heading>
      <table className="w-full table-fixed">
        <Head edits={false} />
        <tbody>
          {rows.map((row) => {
            const words = differsInWords(row);
            const byHand = connection.setup.lists?.find(({ id }) => id === row.id)?.byHand ?? 'ask';
            return (
              <Fragment key={row.id}>
                <tr className="border-b border-hair">
                  <td className={`${cell} truncate`}>
                    {row.direction === 'out' ? (
                      <Link className="hover:underline" to={`/segments/${row.segment}`}>
                        {row.name}
                      </Link>
                    ) : (
                      `tag ${row.name}`
                    )}
                  </td>
                  <td className="text-center">{row.direction === 'out' ? '→' : '←'}</td>
                  <td className={`${cell} truncate`} title={row.label}>
                    {row.label}
                  </td>
                  <td className={`${cell} text-[12.5px] text-ink2`}>
                    {row.direction === 'in' ? 'is taken in' : BY_HAND_WORDS.find(([value]) => value === byHand)?.[1]}
                  </td>
                  <Numbers standing={row} />
                  <td className="text-[12.5px]">
                    {words ? (
                      <button
                        type="button"
                        className="link text-left"
                        aria-expanded={open === row.id}
                        onClick={() => setOpen(open === row.id ? '' : row.id)}
                      >
                        {words}
                      </button>
                    ) : (
                      <span className="text-ink2">nothing</span>
                    )}
                  </td>
                  <td className="text-[12.5px] text-ink2">{row.lastAt ? <When at={row.lastAt} /> : ''}</td>
                </tr>
                {open === row.id ? (
                  <tr>
                    <td colSpan={8}>
                      <Differences connection={connection.id} list={row.id} />
                    </td>
                  </tr>
                ) : null}
              </Fragment>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

import type { ConnectionDetail, Lists, PairLook, SyncLine } from '@gray-loom/wire';
import { Catalogue, CUSTOM_PREFIX } from '@gray-loom/core/fields';
import { sayLine, SYNCED_TYPES, withMadeFields } from '@gray-loom/core/syncing';
import { Combobox } from '../../ui/combobox';
import { MakeField } from './make-field';

const RULES: [SyncLine['rule'], string][] = [
  ['ask', 'asks'],
  ['newest', 'newest wins'],
  ['replace', 'replaces'],
  ['fill', 'fills blanks'],
];
const DIRECTIONS: [SyncLine['direction'], string, string][] = [
  ['both', '⇄', 'both ways'],
  ['in', '←', 'from there only'],
  ['out', '→', 'to there only'],
];
const VERDICTS: Record<PairLook['lines'][number]['verdict'], string> = {
  same: 'same',
  in: 'comes in',
  out: 'goes out',
  both: 'both learn',
  ask: 'asks you',
  left: 'left as it is',
};

interface LineTableProps {
  lines: SyncLine[];
  data: ConnectionDetail;
  lists: Lists | undefined;
  look: PairLook | undefined;
  onChange: (lines: SyncLine[]) => void;
}

/** The mapping, both directions on one page, with a real pair of records shown through it. */
export function LineTable({ lines, data, lists, look, onChange }: LineTableProps) {
  const { capabilities } = data;
  const set = (id: string, change: Partial<SyncLine>) =>
    onChange(lines.map((line) => (line.id === id ? { ...line, ...change } : line)));
  const ours = (lists?.fields ?? []).filter((field) => !field.retired && SYNCED_TYPES.has(field.type));
  const fields = [
    { value: 'name', text: 'Name, all parts', group: '' },
    ...ours.map((field) => ({
      value: field.key,
      text: field.name,
      group: field.group === 'custom' ? 'own fields' : '',
    })),
  ];
  const outside = [
    ...withMadeFields(
      capabilities,
      lines.map((line) => line.outside),
    ).fields.map((field) => ({ value: field.key, text: field.name })),
    ...(capabilities.labels ? [{ value: 'labels', text: 'Labels' }] : []),
  ];
  const nameOf = (list: { value: string; text: string }[], value: string) =>
    list.find((one) => one.value === value)?.text ?? (value || 'choose');
  const unused = outside.filter(({ value }) => value === 'labels' || !lines.some((line) => line.outside === value));
  const catalogue = new Catalogue((lists?.fields ?? []).filter(({ key }) => key.startsWith(CUSTOM_PREFIX)));
  const chooser = 'field w-full truncate text-left';
  return (
    <>
      <table className="w-full table-fixed">
        <thead className="text-left text-[12.5px] text-ink2">
          <tr className="border-b border-strong">
            <th className="w-[18%] py-1 font-normal">Here</th>
            <th className="w-[13%] font-normal">Value</th>
            <th className="w-12 font-normal" aria-label="Direction" />
            <th className="w-[15%] font-normal">Over there</th>
            <th className="w-[13%] font-normal">Value</th>
            <th className="w-[17%] font-normal">Where both changed</th>
            <th className="font-normal">With this pair</th>
            <th className="w-7" aria-label="Take out" />
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => {
            const seen = look?.lines.find(({ id }) => id === line.id);
            return (
              <tr key={line.id} className="border-b border-hair align-baseline">
                <td className="py-1 pr-2">
                  {line.fixed !== undefined ? (
                    <input
                      className="field w-full"
                      aria-label="Fixed value"
                      placeholder="fixed value"
                      value={line.fixed}
                      onChange={(event) => set(line.id, { fixed: event.target.value })}
                    />
                  ) : (
                    <Combobox
                      label="Field here"
                      value={line.field}
                      choices={fields}
                      onChoose={(field) => set(line.id, { field })}
                      className={chooser}
                    >
                      {nameOf(fields, line.field)}
                    </Combobox>
                  )}
                </td>
                <td className="truncate pr-2 text-[12.5px]" title={seen?.here.join(', ')}>
                  {seen?.here.join(', ')}
                </td>
                <td className="pr-2">
                  <button
                    type="button"
                    className="field w-full px-1 text-center"
                    disabled={line.fixed !== undefined}
                    aria-label={`Direction: ${DIRECTIONS.find(([key]) => key === line.direction)?.[2]}`}
                    title={DIRECTIONS.find(([key]) => key === line.direction)?.[2]}
                    onClick={() => {
                      const next = DIRECTIONS[(DIRECTIONS.findIndex(([key]) => key === line.direction) + 1) % 3];
                      if (next) set(line.id, { direction: next[0] });
                    }}
                  >
                    {DIRECTIONS.find(([key]) => key === line.direction)?.[1]}
                  </button>
                </td>
                <td className="pr-2">
                  <Combobox
                    label="Field over there"
                    value={line.outside}
                    choices={outside}
                    onChoose={(value) => set(line.id, { outside: value })}
                    className={chooser}
                  >
                    {line.stageLabels ? 'Labels, one a stage' : nameOf(outside, line.outside)}
                  </Combobox>
                </td>
                <td className="truncate pr-2 text-[12.5px]" title={seen?.there.join(', ')}>
                  {seen?.there.join(', ')}
                </td>
                <td className="pr-2">
                  {line.fixed !== undefined ? (
                    <span className="text-ink2">always written</span>
                  ) : (
                    <select
                      className="field w-full"
                      aria-label="Where both changed"
                      value={line.direction === 'both' && line.rule === 'replace' ? (line.wins ?? 'there') : line.rule}
                      onChange={(event) => {
                        const value = event.target.value;
                        if (value === 'here' || value === 'there') set(line.id, { rule: 'replace', wins: value });
                        else set(line.id, { rule: value as SyncLine['rule'] });
                      }}
                    >
                      {RULES.map(([rule, words]) =>
                        rule === 'replace' && line.direction === 'both' ? null : (
                          <option key={rule} value={rule}>
                            {words}
                          </option>
                        ),
                      )}
                      {line.direction === 'both' ? (
                        <>
                          <option value="here">here replaces</option>
                          <option value="there">there replaces</option>
                        </>
                      ) : null}
                    </select>
                  )}
                </td>
                <td
                  className={`text-[12.5px] ${seen?.verdict === 'ask' ? 'font-semibold' : 'text-ink2'}`}
                  title={seen?.after.join(', ')}
                >
                  {seen ? VERDICTS[seen.verdict] : ''}
                  {seen && (seen.verdict === 'in' || seen.verdict === 'both') ? `: ${seen.after.join(', ')}` : ''}
                  {data.limits[line.id] ? <span className="block text-ink3">{data.limits[line.id]}</span> : null}
                </td>
                <td>
                  <button
                    type="button"
                    className="px-1 text-ink3 hover:text-ink"
                    aria-label={`Take out ${nameOf(fields, line.field)}`}
                    onClick={() => onChange(lines.filter((one) => one.id !== line.id))}
                  >
                    ×
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="mt-1 flex gap-4">
        <Combobox
          label="Add a line"
          value={null}
          choices={unused}
          onChoose={(value) =>
            onChange([...lines, { id: freshId(lines), field: 'note', outside: value, direction: 'both', rule: 'ask' }])
          }
          className="text-ink2 hover:text-ink"
        >
          + line
        </Combobox>
        <Combobox
          label="Add a fixed value"
          value={null}
          choices={unused.filter(({ value }) => value !== 'labels')}
          onChoose={(value) =>
            onChange([
              ...lines,
              { id: freshId(lines), field: '', outside: value, direction: 'out', rule: 'replace', fixed: '' },
            ])
          }
          className="text-ink2 hover:text-ink"
        >
          + fixed value
        </Combobox>
        {capabilities.canMakeFields || capabilities.newFieldTypes ? (
          <MakeField
            data={data}
            ours={ours}
            taken={outside.map(({ value }) => value)}
            onMake={(outsideKey, field) =>
              onChange([...lines, { id: freshId(lines), field, outside: outsideKey, direction: 'both', rule: 'ask' }])
            }
          />
        ) : null}
      </p>
      <details className="mt-2">
        <summary className="cursor-pointer text-ink2">In words</summary>
        <ul className="mt-1 columns-2 gap-8">
          {lines.map((line) => (
            <li key={line.id}>{sayLine(line, catalogue, capabilities)}.</li>
          ))}
        </ul>
      </details>
    </>
  );
}

function freshId(lines: readonly { id: string }[]): string {
  for (let n = lines.length + 1; ; n++) if (!lines.some(({ id }) => id === `line-${n}`)) return `line-${n}`;
}

import type { ConnectionDetail, Lists, SyncLine } from '@gray-loom/wire';

/** Which label stands for which stage; a stage without one leaves the labels over there without any of these. */
export function StageLabels({
  lines,
  data,
  lists,
  onChange,
}: {
  lines: SyncLine[];
  data: ConnectionDetail;
  lists: Lists | undefined;
  onChange: (lines: SyncLine[]) => void;
}) {
  const line = lines.find((one) => one.stageLabels);
  if (!line?.stageLabels) return null;
  const labels = line.stageLabels;
  const known = new Set(data.capabilities.knownLabels.map((label) => label.toLowerCase()));
  const set = (stage: string, label: string) => {
    const next = { ...labels, [stage]: label };
    if (!label.trim()) delete next[stage];
    onChange(lines.map((one) => (one.id === line.id ? { ...one, stageLabels: next } : one)));
  };
  return (
    <div className="mt-2 grid grid-cols-3 gap-x-6 gap-y-1.5">
      {(lists?.stages ?? []).map(({ label: stage }) => (
        <label key={stage} className="flex items-center gap-2">
          <span className="w-24 shrink-0 truncate">{stage}</span>
          <input
            className="field min-w-0 flex-1"
            list="labels-there"
            aria-label={`Label for ${stage}`}
            placeholder="no label"
            value={labels[stage] ?? ''}
            onChange={(event) => set(stage, event.target.value)}
          />
          {labels[stage] && !known.has(labels[stage].toLowerCase()) ? (
            <span className="text-[12px] text-ink2">new there</span>
          ) : null}
        </label>
      ))}
      {Object.entries(line.formerLabels ?? {}).map(([label, stage]) => (
        <p key={label} className="col-span-3 text-[12.5px] text-ink2">
          "{label}" over there is read as {stage} as well, and becomes "{labels[stage]}".{' '}
          <button
            type="button"
            className="link"
            onClick={() => {
              const { [label]: _gone, ...formerLabels } = line.formerLabels ?? {};
              onChange(lines.map((one) => (one.id === line.id ? { ...one, formerLabels } : one)));
            }}
          >
            Not any more
          </button>
        </p>
      ))}
      <datalist id="labels-there">
        {data.capabilities.knownLabels.map((label) => (
          <option key={label} value={label} />
        ))}
      </datalist>
    </div>
  );
}

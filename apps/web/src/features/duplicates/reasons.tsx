import type { MatchBoard } from '@gray-loom/wire';

/** Why these are taken for one person: reasons in words with their weight in bits, strongest first. */
export function Reasons({ board }: { board: MatchBoard }) {
  const names = new Map(board.members.map((member, i) => [member.id, i + 1]));
  return (
    <section
      aria-label="Reasons"
      className={`grid gap-x-8 gap-y-3 py-3 ${board.reasons.length > 1 ? 'md:grid-cols-2' : ''}`}
    >
      {board.reasons.map((pair) => (
        <div key={`${pair.a}:${pair.b}`}>
          {board.members.length > 2 ? (
            <h2 className="text-[12.5px] text-ink2">
              {names.get(pair.a)} and {names.get(pair.b)}, {signed(pair.bits)} in all
            </h2>
          ) : (
            <h2 className="text-[12.5px] text-ink2">
              Evidence in bits, {signed(pair.bits)} in all; each bit doubles the odds
            </h2>
          )}
          <ul>
            {pair.reasons.map((reason) => (
              <li key={reason.field} className={`relative pl-3.5 ${reason.bits < 0 ? 'text-ink2' : ''}`}>
                <span className="absolute left-0 text-ink3">•</span>
                {reason.text} <span className="text-ink2">{signed(reason.bits)}</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

function signed(bits: number): string {
  return `${bits < 0 ? '−' : '+'}${Math.abs(bits).toFixed(1)}`;
}

/** Evidence in bits as odds for one person: "about 190 to 1". */
export function oddsInWords(bits: number): string {
  const odds = 2 ** Math.abs(bits);
  const ten = 10 ** Math.max(0, Math.floor(Math.log10(odds)) - 1);
  const about = odds > 1e6 ? 'more than a million' : `about ${(Math.round(odds / ten) * ten).toLocaleString('en-GB')}`;
  return bits < 0 ? `${about} to 1 against` : `${about} to 1`;
}

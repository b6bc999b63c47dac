import type { SyncLine } from './lines';
import type { OutsideField, OutsideRecord } from './outside';
import { sameTexts } from './pass-item';
import type { Base } from './plan-pair';
import type { Link } from './ports';
import { itemsOf, outsideField, valuesThere, type SyncContext } from './project';

/** Takes what was about to be written as agreed on, as far as it stands there: an answer that was lost was a yes. */
export function recoverIntent(
  link: Link,
  record: OutsideRecord,
  lines: readonly SyncLine[],
  fields: readonly OutsideField[],
  context: SyncContext,
): Link {
  const { intent } = link;
  if (!intent) return link;
  const base: Base = { ...link.base };
  for (const line of lines) {
    const then = intent.base[line.id];
    if (!then) continue;
    if (line.stageLabels || line.outside === 'labels') {
      const labels = intent.labels ?? link.seen?.labels ?? [];
      if (sameTexts(labels, record.labels)) base[line.id] = then;
      continue;
    }
    const field = outsideField(line, fields);
    const wanted = itemsOf(then.t ?? then.o, line, field, context);
    const there = itemsOf(valuesThere(record, line), line, field, context);
    if (wanted.length === there.length && wanted.every(({ key }) => there.some((item) => item.key === key)))
      base[line.id] = then;
  }
  return { ...link, base, intent: null, dirty: true };
}

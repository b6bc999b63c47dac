import type { PassItem } from './pass-item';
import type { Intent, Link, OutsideWrite, OutsideWritten, PairWrite } from './ports';

function intentOf({ plan }: PassItem): Intent | null {
  return plan && (plan.fields || plan.labels || plan.stopThere.length)
    ? { fields: plan.fields, labels: plan.labels, base: plan.base }
    : null;
}

export function firstWrite(item: PassItem): PairWrite {
  const { link, plan, person, operations, create, event, action } = item;
  const intent = intentOf(item);
  const making = action === 'makeThere';
  return {
    link: {
      ...link,
      base: plan && action !== 'apart' ? (making && link.kept === null ? link.base : plan.baseHere) : link.base,
      intent: making ? (intent ?? { fields: {}, labels: null, base: plan?.base ?? {} }) : intent,
      dirty: intent !== null || making || action === 'removeThere',
    },
    ...(create ? { create } : {}),
    operations: action === 'makeThere' || action === 'pair' ? operations : [],
    version: person && operations.length ? person.version : null,
    stop: plan?.stopHere ?? [],
    changes: plan?.changes.filter(({ side }) => side === 'here') ?? [],
    ...(plan && (action === 'pair' || action === 'makeHere' || action === 'makeThere')
      ? { conflicts: plan.conflicts }
      : {}),
    // Whoever is no longer in step has nothing left to be decided.
    ...(action === 'apart' || action === 'removeThere' ? { conflicts: [] } : {}),
    ...(item.conflicts ? { conflicts: item.conflicts } : {}),
    ...(item.movedFrom ? { movedFrom: item.movedFrom } : {}),
    ...(event && event !== 'madeThere' && event !== 'removedThere' ? { event } : {}),
  };
}

export function outsideWrite(item: PassItem): OutsideWrite | null {
  const { link, plan, action } = item;
  if (action === 'removeThere') return { kind: 'remove', id: link.outsideId, version: link.version };
  if (!plan) return null;
  if (action === 'makeThere')
    return {
      kind: 'create',
      id: link.outsideId,
      fields: plan.fields ?? {},
      labels: plan.labels ?? (link.kept === null ? [] : null),
      stopped: plan.stopThere,
      ...(link.kept === null ? {} : { from: link.kept }),
    };
  if (!intentOf(item) || !link.seen) return null;
  return {
    kind: 'update',
    id: link.outsideId,
    version: link.version,
    fields: plan.fields,
    labels: plan.labels,
    stop: plan.stopThere,
    seen: link.seen,
  };
}

export function confirmation(item: PassItem, contactId: number, result: OutsideWritten): PairWrite {
  const { link, plan, action, event } = item;
  const write = (more: Partial<Link>, rest: Partial<PairWrite> = {}): PairWrite => ({
    link: { ...link, intent: null, dirty: false, ...more, contactId: contactId || link.contactId },
    operations: [],
    version: null,
    stop: [],
    changes: [],
    ...rest,
  });
  const there = plan?.changes.filter(({ side }) => side === 'there') ?? [];
  if (result.ok) {
    if (action === 'removeThere')
      return write(
        { state: 'apart', apart: item.apart ?? 'left', version: '', asks: null, kept: result.kept ?? null },
        { event: 'removedThere' },
      );
    const record = result.record;
    // An id may follow what was written; the link goes with it.
    const isRenamed = record !== null && record.id !== link.outsideId;
    return write(
      {
        ...(isRenamed ? { outsideId: record.id } : {}),
        ...(action === 'apart' ? {} : { state: 'linked' as const, base: plan?.base ?? link.base }),
        version: record?.version ?? link.version,
        seen: record ?? link.seen,
        notTaken: null,
        kept: null,
        // Without a look at what stands there now, the next pass has one.
        dirty: record === null,
      },
      { changes: there, ...(event ? { event } : {}), ...(isRenamed ? { movedFrom: link.outsideId } : {}) },
    );
  }
  // What is not taken is tried again with every pass, and said once.
  const isNews = link.notTaken !== result.text;
  if (action === 'makeThere' && result.why === 'full')
    return write({ ...firstWrite(item).link, notTaken: result.text });
  if (action === 'makeThere')
    return write(
      { state: 'apart', apart: 'refused', base: null, dirty: true, notTaken: result.text },
      isNews ? { event: 'refused' } : {},
    );
  const back = plan && action !== 'apart' ? plan.baseHere : link.base;
  if (result.why === 'refused')
    return write({ base: back, dirty: true, notTaken: result.text }, isNews ? { event: 'refused' } : {});
  return write({ base: back, dirty: true, ...(result.why === 'full' ? { notTaken: result.text } : {}) });
}

import type { Activity, ActivityKind, Repeat } from '@gray-loom/core/activity';
import { localDay, localTime, whenFrom } from './activity-words';

/** An entry as it stands in its form. */
export interface Draft {
  /** When it was before the form: seconds that a form does not show are kept where nobody moves it. */
  was: string | null;
  day: string;
  time: string;
  endDay: string;
  endTime: string;
  who: number | null;
  what: string;
  text: string;
  way: 'call' | 'meeting';
  minutes: string;
  outcome: string;
  place: string;
  from: string;
  amount: string;
  currency: string;
  colleagues: number[];
  people: { id: number; name: string }[];
  repeatEvery: string;
  repeatUnit: Repeat['unit'];
  repeatUntil: string;
  stage: string;
}

/** The form of an entry. */
export function draftOf(
  activity: Activity,
  { me, currency, people }: { me: number | null; currency: string; people: Draft['people'] },
): Draft {
  const { at, end, amount, repeat } = activity;
  return {
    was: at,
    day: at === null ? '' : localDay(at),
    time: localTime(at),
    endDay: end === null ? '' : localDay(end),
    endTime: localTime(end),
    who: activity.who ?? me,
    what: activity.what,
    text: activity.text,
    way: activity.way ?? 'call',
    minutes: activity.minutes === null ? '' : String(activity.minutes),
    outcome: activity.outcome,
    place: activity.place,
    from: activity.from,
    amount: amount ? String(amount.amount) : '',
    currency: amount?.currency ?? currency,
    colleagues: activity.colleagues,
    people,
    repeatEvery: repeat ? String(repeat.every) : '',
    repeatUnit: repeat?.unit ?? 'week',
    repeatUntil: repeat?.until ?? '',
    stage: '',
  };
}

const numberOf = (text: string): number | null => (text.trim() === '' ? null : Number(text.replace(/[\s,]/g, '')));

/** What a draft says, for a kind; parts that the kind has no field for are left as they are. */
export function partsOf(kind: ActivityKind, draft: Draft): Partial<Activity> {
  const { was } = draft;
  const isMoved = was === null || draft.day !== localDay(was) || draft.time !== localTime(was);
  const at = isMoved ? whenFrom(draft.day, draft.time) : was;
  const common = { at, who: draft.who, text: draft.text };
  switch (kind) {
    case 'note':
      return { at, text: draft.text };
    case 'talk':
      return { ...common, what: draft.what, way: draft.way, minutes: numberOf(draft.minutes), outcome: draft.outcome };
    case 'task': {
      const every = numberOf(draft.repeatEvery);
      const repeat: Repeat | null =
        every === null || !draft.day
          ? null
          : {
              every,
              unit: draft.repeatUnit,
              first: draft.day,
              zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
              until: draft.repeatUntil || null,
            };
      return { ...common, what: draft.what, repeat };
    }
    case 'appointment':
      return {
        ...common,
        what: draft.what,
        place: draft.place,
        colleagues: draft.colleagues,
        people: draft.people.map(({ id }) => id),
        end: whenFrom(draft.endDay || (draft.endTime ? draft.day : ''), draft.endTime),
      };
    case 'enquiry':
      return { ...common, what: draft.what, from: draft.from };
    default: {
      const amount = numberOf(draft.amount);
      return {
        ...common,
        what: draft.what,
        amount: amount === null ? null : { amount, currency: draft.currency.trim().toUpperCase() },
      };
    }
  }
}

import { Link } from 'react-router';
import type { Lists } from '@gray-loom/wire';
import { count } from '../../ui/when';

const KINDS = [
  { key: 'people', to: '/contacts', text: 'People' },
  { key: 'organizations', to: '/contacts?kind=organization', text: 'Organizations' },
  { key: 'opportunities', to: '/opportunities', text: 'Opportunities' },
  { key: 'referrals', to: '/contacts/referrals', text: 'Referrals' },
  { key: 'stops', to: '/contacts/stops', text: 'Stops' },
] as const;

/** What Contacts holds: people, organizations, what is under way with them, who referred whom, and who wants no more. */
export function RecordKinds({ current, lists }: { current: (typeof KINDS)[number]['key']; lists: Lists | undefined }) {
  return (
    <nav aria-label="Kinds of records" className="flex items-baseline gap-x-3">
      {KINDS.map(({ key, to, text }) => (
        <Link
          key={key}
          to={to}
          aria-current={current === key ? 'page' : undefined}
          className={`text-[15px] ${current === key ? 'font-bold' : 'text-ink2 hover:text-ink'}`}
        >
          {text}{' '}
          {lists && key !== 'referrals' && key !== 'stops' ? (
            <span className="text-[12px] font-normal text-ink2">{count(lists[key])}</span>
          ) : null}
        </Link>
      ))}
    </nav>
  );
}

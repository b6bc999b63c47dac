import { Link } from 'react-router';
import type { LabelCount } from '@gray-loom/wire';
import { count } from '../../ui/when';
import { contactsWith } from '../../app/where';

/** All live contacts with a label, people and organizations. */
export function everyone({ people, organizations }: LabelCount): number {
  return people + organizations;
}

const FIELDS = { tag: 'tags', source: 'source', stage: 'stage', area: '@area' } as const;

/** How many people and how many organizations have a label, each a way to the list of them. */
export function WhoHasIt({ by, counts }: { by: 'tag' | 'source' | 'stage' | 'area'; counts: LabelCount | undefined }) {
  if (!counts) return null;
  const to = contactsWith(FIELDS[by], counts.label);
  return (
    <span className="flex gap-3">
      {counts.people ? (
        <Link className="link" to={to}>
          {count(counts.people)} {counts.people === 1 ? 'person' : 'people'}
        </Link>
      ) : null}
      {counts.organizations ? (
        <Link className="link" to={`${to}&kind=organization`}>
          {count(counts.organizations)} {counts.organizations === 1 ? 'organization' : 'organizations'}
        </Link>
      ) : null}
    </span>
  );
}

import { useMay, type Role } from '../../app/may';
import { NavLink, Navigate, useParams } from 'react-router';
import type { PickKind } from '@gray-loom/wire';
import { useLists } from '../../app/lists';
import { Failed, Loading } from '../../ui/controls';
import { OwnAccountPage } from '../people/own-account-page';
import { ErasedPage } from '../erasing/erased-page';
import { PeoplePage } from '../people/people-page';
import { AreasPage } from './areas-page';
import { BrowserPage } from './browser-page';
import { CompletenessPage } from './completeness-page';
import { FieldsPage } from './fields-page';
import { MappingsPage } from './mappings-page';
import { MatchingPage } from './matching-page';
import { MergingPage } from './merging-page';
import { PicksPage } from './picks-page';
import { PipelinesPage } from './pipelines-page';
import { TouchPage } from './touch-page';
import { UpkeepPage } from './upkeep-page';

const PARTS: readonly [to: string, name: string, needs: Role][] = [
  ['fields', 'Fields', 'administrator'],
  ['tags', 'Tags', 'administrator'],
  ['sources', 'Sources', 'administrator'],
  ['stages', 'Stages', 'administrator'],
  ['areas', 'Areas', 'administrator'],
  ['pipelines', 'Pipelines', 'administrator'],
  ['mappings', 'Saved mappings', 'editor'],
  ['matching', 'Matching', 'administrator'],
  ['merging', 'Merging', 'administrator'],
  ['completeness', 'Completeness', 'administrator'],
  ['touch', 'Keeping in touch', 'administrator'],
  ['people', 'People', 'administrator'],
  ['erased', 'Erased people', 'administrator'],
  ['upkeep', 'Upkeep', 'viewer'],
  ['you', 'Your account', 'viewer'],
  ['browser', 'This browser', 'viewer'],
];
const PICKS: Record<string, PickKind> = { tags: 'tag', sources: 'source', stages: 'stage' };

/** What everything else is driven by: fields, pick-lists, areas; and the looks of this browser. */
export function SettingsPage() {
  const { part = '' } = useParams();
  const lists = useLists();
  const mayAll = useMay('administrator');
  const mayEdit = useMay('editor');
  const parts = PARTS.filter(([, , needs]) => needs === 'viewer' || (needs === 'editor' ? mayEdit : mayAll));
  if (!parts.some(([one]) => one === part)) return <Navigate to={`/settings/${parts[0]?.[0] ?? 'browser'}`} replace />;
  if (lists.isPending) return <Loading what="the set-up" />;
  if (lists.isLoadingError) return <Failed error={lists.error} retry={() => void lists.refetch()} />;
  const kind = PICKS[part];
  return (
    <div className="flex h-full min-h-0">
      <nav aria-label="Parts of the set-up" className="w-36 shrink-0 border-r border-hair py-2">
        <h1 className="sr-only">Settings</h1>
        {parts.map(([to, name]) => (
          <NavLink
            key={to}
            to={`/settings/${to}`}
            className={({ isActive }) =>
              `block px-3.5 py-1 ${isActive ? 'bg-picked font-semibold' : 'text-ink2 hover:text-ink'}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <div className="min-w-0 flex-1">
        {part === 'fields' ? <FieldsPage lists={lists.data} /> : null}
        {kind ? <PicksPage key={kind} kind={kind} lists={lists.data} /> : null}
        {part === 'areas' ? <AreasPage lists={lists.data} /> : null}
        {part === 'pipelines' ? <PipelinesPage /> : null}
        {part === 'mappings' ? <MappingsPage /> : null}
        {part === 'matching' ? <MatchingPage /> : null}
        {part === 'merging' ? <MergingPage lists={lists.data} /> : null}
        {part === 'completeness' ? <CompletenessPage lists={lists.data} /> : null}
        {part === 'touch' ? <TouchPage lists={lists.data} /> : null}
        {part === 'people' ? <PeoplePage /> : null}
        {part === 'erased' ? <ErasedPage /> : null}
        {part === 'upkeep' ? <UpkeepPage /> : null}
        {part === 'you' ? <OwnAccountPage /> : null}
        {part === 'browser' ? <BrowserPage /> : null}
      </div>
    </div>
  );
}

import { May } from '../../app/may';
import { keys } from '../../app/keys';
import { useQuery } from '@tanstack/react-query';
import { Link, NavLink, useParams } from 'react-router';
import type { ConnectionSummary } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Failed, Loading, Notice } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';
import { ConflictsPanel } from './conflicts-panel';
import { ConnectionSetup } from './connection-setup';
import { ConnectionState } from './connection-state';
import { Crossings, SpanChoice } from './crossings';
import { NewConnection } from './new-connection';
import { stateWords } from './sync-words';
import { TrialPanel } from './trial-panel';

/** Connections to outside tools: how they stand, how they are set up, and what waits for a decision. */
export function SyncsPage() {
  const { id = '', part = '' } = useParams();
  const list = useQuery({
    queryKey: keys.connections(),
    queryFn: () => api.get<ConnectionSummary[]>('/connections'),
    refetchInterval: (query) => (query.state.data?.some(({ running }) => running !== null) ? 1500 : false),
  });
  if (list.isPending) return <Loading what="the connections" />;
  if (list.isLoadingError) return <Failed error={list.error} retry={() => void list.refetch()} />;
  const connections = list.data;
  const waiting = connections.reduce((sum, one) => sum + one.waiting, 0);
  const line = ({ isActive }: { isActive: boolean }) =>
    `flex items-baseline gap-2 border-b border-hair px-3.5 py-1.5 ${isActive ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-cloth'}`;
  return (
    <div className="flex h-full">
      <nav aria-label="Connections" className="flex w-60 shrink-0 flex-col border-r border-strong">
        <NavLink to="/syncs" end className={line}>
          All connections
          <span className="ml-auto text-[12.5px] text-ink2">{connections.length}</span>
        </NavLink>
        <NavLink to="/syncs/conflicts" className={line}>
          Conflicts and questions
          <span className="ml-auto text-[12.5px] text-ink2">{waiting ? count(waiting) : ''}</span>
        </NavLink>
        <div className="relative min-h-0 flex-1 overflow-y-auto">
          {connections.map((one) => (
            <NavLink key={one.id} to={`/syncs/${one.id}`} className={line}>
              <ThreadSwatch kind={one.kind} look={one.look} />
              <span className="min-w-0">
                <span className="block truncate">{one.name}</span>
                <span className={`block text-[12.5px] ${one.trouble || one.braked ? 'text-alarm' : 'text-ink2'}`}>
                  {stateWords(one)}
                </span>
              </span>
            </NavLink>
          ))}
        </div>
        <div className="border-t border-strong px-3.5 py-2">
          <May role="administrator">
            <Link to="/syncs/new" className="link">
              Connect a tool
            </Link>
          </May>
        </div>
      </nav>
      <div className="relative min-w-0 flex-1 overflow-y-auto">
        {id === 'new' ? (
          <NewConnection connections={connections} />
        ) : id === 'conflicts' ? (
          <ConflictsPanel picked={part} />
        ) : id && part === 'setup' ? (
          <ConnectionSetup key={id} id={Number(id)} />
        ) : id && part === 'trial' ? (
          <TrialPanel key={id} id={Number(id)} />
        ) : id ? (
          <ConnectionState key={id} id={Number(id)} />
        ) : connections.length === 0 ? (
          <Notice title="No tool is connected yet">
            An address book, a dialer or a mailer can be kept in step with the contacts here, both ways. Nothing is
            written before you have seen what would change.{' '}
            <May role="administrator">
              <Link to="/syncs/new" className="link">
                Connect a tool
              </Link>
            </May>
          </Notice>
        ) : (
          <div className="px-6 py-5">
            <SpanChoice />
            <ul className="mt-3 space-y-6">
              {connections.map((one) => (
                <li key={one.id}>
                  <h2 className="mb-1.5 flex items-baseline gap-2 text-[15px] font-semibold">
                    <Link to={`/syncs/${one.id}`} className="hover:underline">
                      {one.name}
                    </Link>
                    <span
                      className={`text-[12.5px] font-normal ${one.trouble || one.braked ? 'text-alarm' : 'text-ink2'}`}
                    >
                      {one.trouble ?? one.braked?.reasons[0] ?? stateWords(one)}
                    </span>
                  </h2>
                  <Crossings connection={one} />
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
    </div>
  );
}

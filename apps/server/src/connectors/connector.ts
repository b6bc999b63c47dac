import { ToolTrouble, type Capabilities, type Changes, type Tool } from '@gray-loom/core/syncing';
import type { ConnectorKind, ConnectorOffer } from '@gray-loom/wire';

/** What a tool was told to be reached, by the keys of its connector's settings, secrets included. */
export type Settings = Readonly<Record<string, string>>;

/** One step of a test of a connection, in words. */
export interface ConnectionStep {
  name: string;
  ok: boolean;
  text: string;
  /** Key of the setting that it hangs on, where it is one. */
  setting?: string;
}

export interface TestedConnection {
  steps: ConnectionStep[];
  /** Where the records are, found by the settings that were given; null where a step failed. */
  place: string | null;
  capabilities: Capabilities | null;
}

/** A tool with what a connector knows of speaking to it: requests so far, and the clock over there. */
export type OpenTool = Tool & { requests: number; clock: Changes['clock'] };

/** A call of a tool that says what changed, as it came. */
export interface HeardRequest {
  body: string;
  header(name: string): string | undefined;
  secret: string;
  nowMs: number;
  /** Clock over there less ours, as its answers showed it. */
  aheadMs: number;
}

/** What a call says: records that changed, records that a colleague there sent over by hand, or results that came. */
export interface HeardCall {
  kind: 'records' | 'pushed' | 'results';
  /** Ids of the records, for those sent over. */
  ids: string[];
}

/** A kind of outside tool: what it is told, how it is found and tested, and how it is spoken to. docs/syncing.md says what it has to keep to. */
export interface Connector extends Omit<ConnectorOffer, 'kind'> {
  kind: ConnectorKind;
  find(settings: Settings): Promise<TestedConnection>;
  /** `forStops`: for carrying stops over, which may use what is kept of a quota. */
  open(place: string, settings: Settings, options?: { forStops?: boolean }): OpenTool;
  /** Reads a signed call; says why where it is not believed. For tools that sign. */
  readCall?(request: HeardRequest): HeardCall | { refused: string };
}

/** Settings without their secrets, and the secrets alone. */
export function partSettings(
  { settings: declared }: Pick<Connector, 'settings'>,
  all: Settings,
): { open: Record<string, string>; secret: Record<string, string> } {
  const open: Record<string, string> = {};
  const secret: Record<string, string> = {};
  for (const { key, kind } of declared) (kind === 'secret' ? secret : open)[key] = all[key] ?? '';
  return { open, secret };
}

/** The first setting that is blank; null where all are told. A secret may be. */
export const missingSetting = (
  { settings }: Pick<Connector, 'settings'>,
  all: Settings,
): Connector['settings'][number] | null =>
  settings.find(({ key, kind }) => kind !== 'secret' && !all[key]?.trim()) ?? null;

type Step = <T>(name: string, setting: string, work: () => Promise<T>) => Promise<T>;

/** A test of a connection in steps, which ends with the first that fails. */
export async function stepsOf(
  test: (step: Step) => Promise<{ place: string; capabilities: Capabilities }>,
): Promise<TestedConnection> {
  const steps: ConnectionStep[] = [];
  const step: Step = async (name, setting, work) => {
    try {
      const result = await work();
      steps.push({ name, ok: true, text: '' });
      return result;
    } catch (error) {
      if (!(error instanceof ToolTrouble)) throw error;
      steps.push({ name, ok: false, text: error.message, setting });
      throw error;
    }
  };
  try {
    return { steps, ...(await test(step)) };
  } catch (error) {
    if (!(error instanceof ToolTrouble)) throw error;
    return { steps, place: null, capabilities: null };
  }
}

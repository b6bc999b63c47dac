import type { Capabilities, Tool } from '@gray-loom/core/syncing';

export interface Credentials {
  user: string;
  password: string;
}

/** One step of a test of a connection, in words. */
export interface ConnectionStep {
  name: string;
  ok: boolean;
  text: string;
}

export interface TestedConnection {
  steps: ConnectionStep[];
  /** Where the records are, found from the address that was given; null where a step failed. */
  address: string | null;
  capabilities: Capabilities | null;
}

/** A kind of outside tool: how it is found and tested, and how it is spoken to. docs/connectors.md says what it has to keep to. */
export interface Connector {
  kind: 'addressBook';
  name: string;
  find(address: string, credentials: Credentials): Promise<TestedConnection>;
  open(address: string, credentials: Credentials): Tool & { requests: number };
}

import type { Config } from '../config';
import type { Consumer } from '../feed/consumer';
import type { EventHub } from '../feed/events';
import type { Logger } from '../log';
import type { RunKinds } from '../runs/kind';

/** What routes have at hand beside the database, which comes with each request. */
export interface Surroundings {
  config: Config;
  events: EventHub;
  log: Logger;
  kinds: RunKinds;
  /** Who reads the feed of changes. */
  consumers: readonly Consumer[];
}

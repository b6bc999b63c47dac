import type { Config } from '../config';
import type { EventHub } from '../feed/events';
import type { Logger } from '../log';

/** What routes have at hand beside the database, which comes with each request. */
export interface Surroundings {
  config: Config;
  events: EventHub;
  log: Logger;
}

import { accountRoutes } from './features/accounts/account-routes';
import { activityRoutes } from './features/activity/activity-routes';
import { batchRoutes } from './features/batch/batch-routes';
import { contactRoutes } from './features/contacts/contact-routes';
import { duplicateRoutes } from './features/duplicates/duplicate-routes';
import { erasingRoutes } from './features/erasing/erasing-routes';
import { intakeRoutes } from './features/intake/intake-routes';
import { heldRoutes } from './features/intake/rows/held-routes';
import { runRoutes } from './features/ledger/run-routes';
import { opportunityRoutes } from './features/opportunities/opportunity-routes';
import { segmentRoutes } from './features/segments/segment-routes';
import { sessionRoutes } from './features/people/session-routes';
import { setupRoutes } from './features/setup/setup-routes';
import { resultRoutes } from './features/syncs/result-routes';
import { syncRoutes } from './features/syncs/sync-routes';
import { worklistRoutes } from './features/worklist/worklist-routes';
import type { Route } from './http/declare';
import { eventRoutes } from './http/event-routes';
import type { Surroundings } from './http/services';

/** Every route that the server answers, in the order in which they are tried. */
export function allRoutes(surroundings: Surroundings): Route[] {
  return [
    ...sessionRoutes(surroundings),
    ...accountRoutes(surroundings),
    ...contactRoutes(surroundings),
    ...segmentRoutes(),
    ...activityRoutes(),
    ...batchRoutes(surroundings),
    ...setupRoutes(surroundings),
    ...opportunityRoutes(),
    ...intakeRoutes(surroundings),
    ...heldRoutes(),
    ...duplicateRoutes(),
    ...syncRoutes(surroundings),
    ...resultRoutes(surroundings),
    ...erasingRoutes(),
    ...runRoutes(surroundings),
    ...worklistRoutes(),
    ...eventRoutes(surroundings),
  ];
}

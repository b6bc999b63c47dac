import type { NewOutsideField, Tool } from '@gray-loom/core/syncing';
import type { OutsideFieldMade } from '@gray-loom/wire';
import { connectorsFor } from '../../connectors';
import { refreshCapabilities, requireConnection, settingsOf, type SyncServices } from './connections';
import { refuse } from './refusals';

/** Makes a field over there that is missing, and fetches what there is again. */
export async function makeOutsideField(
  services: SyncServices,
  connectionId: number,
  field: NewOutsideField,
): Promise<OutsideFieldMade> {
  const row = await requireConnection(services.database, connectionId);
  const tool: Tool = connectorsFor(services.standIns)[row.kind].open(row.place, settingsOf(row, services.secretKey));
  if (!tool.makeField) throw refuse.noNewFields({ name: row.name });
  if (field.type === 'choice' && !field.options.length) throw refuse.noOptions({ field: 'options' });
  const { key, name } = await tool.makeField(field);
  await refreshCapabilities(services, connectionId);
  return { key, name };
}

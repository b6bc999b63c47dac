import { Hono } from 'hono';
import {
  cardsSchema,
  contactFilterSchema,
  contactPageSchema,
  editsSchema,
  entrySchema,
  exportLayoutSchema,
  permissionSchema,
  PICTURE_LIMIT_BYTES,
  placeSchema,
  tableSchema,
} from '@gray-loom/wire';
import { contactPage } from './contact-list';
import { PlaceMarks } from './place-marks';
import { contactDetail, contactHistory } from './contact-detail';
import { editContact, setDeleted } from './edit-contact';
import { addFacts, checkEntry, enterContact } from './enter-contact';
import { exportCard, exportCards } from './export-cards';
import { exportLines, exportTable } from './export-contacts';
import { dropExportLayout, keepExportLayout, listExportLayouts } from './export-layouts';
import { exportSheet } from './export-sheet';
import { mailingLabels } from './labels';
import { recordPermission } from './permissions';
import { findPicture, keepPicture } from './pictures';
import { Problem } from '../../http/problem';
import { body, idOf, query, type AppContext, type AppEnv, type Services } from '../../http/context';

export function contactRoutes({ config, database, events }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();

  const marks = new PlaceMarks();
  events.subscribe((event) => {
    if (event.topic === 'contacts') marks.changed();
  });

  routes.get('/contacts', async (c) =>
    c.json(await contactPage(database.pool, marks, await query(c, contactPageSchema))),
  );
  routes.get('/contacts/place', async (c) => {
    const { letter, ...filter } = await query(c, placeSchema);
    return c.json({ at: await marks.placeOf(database.pool, filter, letter.toLowerCase()) });
  });

  const TABLES = { csv: ['text/csv', ','], tsv: ['text/tab-separated-values', '\t'] } as const;
  for (const [ending, [mediaType, delimiter]] of Object.entries(TABLES))
    routes.get(`/contacts.${ending}`, async (c) => {
      const { fields, ...filter } = await query(c, tableSchema);
      attach(c, mediaType, ending);
      return c.body(await exportTable(database, filter, delimiter, fields.split(',').filter(Boolean)));
    });
  routes.get('/contacts.xlsx', async (c) => {
    const { fields, ...filter } = await query(c, tableSchema);
    const { body: sheet } = await exportSheet(database, filter, fields.split(',').filter(Boolean));
    attach(c, 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', 'xlsx');
    return c.body(sheet);
  });
  routes.get('/contacts.jsonl', async (c) => {
    const filter = await query(c, contactFilterSchema);
    attach(c, 'application/jsonl', 'jsonl');
    return c.body(await exportLines(database, filter));
  });
  routes.get('/contacts.vcf', async (c) => {
    const { version, ...filter } = await query(c, cardsSchema);
    attach(c, 'text/vcard', 'vcf');
    return c.body(await exportCards(database, filter, version));
  });
  routes.get('/contacts/:file{[0-9]+\\.vcf}', async (c) => {
    const { version } = await query(c, cardsSchema);
    const id = Number.parseInt(c.req.param('file'), 10);
    c.header('Content-Type', 'text/vcard; charset=utf-8');
    c.header('Content-Disposition', `attachment; filename="contact-${id}.vcf"`);
    return c.body(await exportCard(database, id, version));
  });

  routes.get('/export-layouts', async (c) => c.json(await listExportLayouts(database)));
  routes.post('/export-layouts', async (c) =>
    c.json(await keepExportLayout(database, await body(c, exportLayoutSchema)), 201),
  );
  routes.delete('/export-layouts/:id', async (c) => {
    await dropExportLayout(database, idOf(c, 'id'));
    return c.body(null, 204);
  });

  routes.get('/labels', async (c) =>
    c.json(await mailingLabels(database, await query(c, contactFilterSchema), config.country)),
  );

  routes.post('/contacts', async (c) =>
    c.json(await enterContact(database, await body(c, entrySchema), c.get('actor').accountId, config.country), 201),
  );
  routes.post('/contacts/check', async (c) =>
    c.json(await checkEntry(database, await body(c, entrySchema), config.country)),
  );
  routes.post('/contacts/:id/facts', async (c) =>
    c.json(
      await addFacts(database, idOf(c, 'id'), await body(c, entrySchema), c.get('actor').accountId, config.country),
    ),
  );
  routes.post('/contacts/:id/permissions', async (c) =>
    c.json(await recordPermission(database, idOf(c, 'id'), await body(c, permissionSchema), c.get('actor').accountId)),
  );
  routes.get('/contacts/:id', async (c) => c.json(await contactDetail(database, idOf(c, 'id'))));
  routes.get('/contacts/:id/history', async (c) => c.json(await contactHistory(database, idOf(c, 'id'))));
  routes.patch('/contacts/:id', async (c) => {
    const { edits, despite } = await body(c, editsSchema);
    return c.json(await editContact(database, idOf(c, 'id'), edits, c.get('actor').accountId, config.country, despite));
  });
  routes.delete('/contacts/:id', async (c) =>
    c.json(await setDeleted(database, idOf(c, 'id'), true, c.get('actor').accountId)),
  );
  routes.post('/contacts/:id/restore', async (c) =>
    c.json(await setDeleted(database, idOf(c, 'id'), false, c.get('actor').accountId)),
  );

  routes.post('/pictures', async (c) => {
    return c.json(await keepPicture(database, await readBody(c.req.raw.body)), 201);
  });
  routes.get('/pictures/:hash', async (c) => {
    const found = await findPicture(database, c.req.param('hash'));
    if (!found) throw new Problem(404, 'noPicture', 'There is no such picture.');
    c.header('Content-Type', found.mediaType);
    c.header('Cache-Control', 'private, max-age=31536000, immutable');
    return c.body(new Uint8Array(found.bytes));
  });
  return routes;
}

/** Says that the answer is a file of today's contacts. */
function attach(c: AppContext, mediaType: string, ending: string): void {
  const day = new Date().toISOString().slice(0, 10);
  c.header('Content-Type', `${mediaType}; charset=utf-8`);
  c.header('Content-Disposition', `attachment; filename="contacts-${day}.${ending}"`);
}

/** Reads a body up to the limit of a picture; one byte more is enough to know that it is too large. */
async function readBody(stream: ReadableStream<Uint8Array> | null): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  let size = 0;
  if (stream)
    for await (const piece of stream as unknown as AsyncIterable<Uint8Array>) {
      pieces.push(piece);
      size += piece.length;
      if (size > PICTURE_LIMIT_BYTES) break;
    }
  return Buffer.concat(pieces);
}

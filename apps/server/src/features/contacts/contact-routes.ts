import { object, string } from 'yup';
import {
  askStopsSchema,
  cardsSchema,
  contactDetailAnswer,
  contactFilterSchema,
  contactPageAnswer,
  contactPageSchema,
  editsSchema,
  enteredAnswer,
  entryCheckAnswer,
  entrySchema,
  factsAnswer,
  historyEntryAnswer,
  idSchema,
  labelsAnswer,
  listOf,
  lookerAnswer,
  permissionSchema,
  pictureAnswer,
  PICTURE_LIMIT_BYTES,
  placeAnswer,
  placeSchema,
  referralsAnswer,
  runAnswer,
  stopAnswerAnswer,
  stopsSchema,
  tableSchema,
} from '@gray-loom/wire';
import { forgetOrganizations } from '../duplicates';
import { file, json, nothing, route, type Route } from '../../http/declare';
import { readWhole } from '../../http/read-whole';
import { refuse } from './refusals';
import type { Surroundings } from '../../http/services';
import { askStops, stopAddresses } from './address-stops';
import { contactDetail, contactHistory } from './contact-detail';
import { contactPage } from './contact-list';
import { editContact, setDeleted } from './edit-contact';
import { addFacts, checkEntry, enterContact } from './enter-contact';
import { exportCard, exportCards } from './export-cards';
import { exportLines, exportTable } from './export-contacts';
import { layoutRoutes } from './layout-routes';
import { exportSheet } from './export-sheet';
import { mailingLabels } from './labels';
import { recordPermission } from './permissions';
import { findPicture, keepPicture } from './pictures';
import { listReferrals } from './referrals';
import { leaveContact, lookAtContact } from './looks';
import { PlaceMarks } from './place-marks';
import { readyFilter } from './ready-filter';
import { orderOf } from './contact-order';

const ENTRY = {
  values: [
    { field: 'givenName', text: 'Maya' },
    { field: 'familyName', text: 'Okafor' },
    { field: 'email', text: 'maya@quillhaven.example' },
  ],
};

/** Name of a file with today's contacts. */
const named = (ending: string) => `contacts-${new Date().toISOString().slice(0, 10)}.${ending}`;
const fieldsOf = (fields: string) => fields.split(',').filter(Boolean);

/** People and organizations: lists, files, records, entry. */
export function contactRoutes({ config, events }: Surroundings): Route[] {
  const marks = new PlaceMarks();
  events.subscribe((event) => {
    if (event.topic !== 'contacts') return;
    marks.changed();
    forgetOrganizations();
  });
  return [
    route({
      method: 'get',
      path: '/contacts',
      summary: 'A page of a list of contacts, at any place of it.',
      may: 'viewer',
      query: contactPageSchema,
      answer: json(contactPageAnswer),
      example: { query: { find: 'okafor', limit: 20 } },
      handle: ({ query, database }) => contactPage(database, marks, query),
    }),
    route({
      method: 'get',
      path: '/contacts/place',
      summary: 'Where in a list the first name with a letter stands.',
      may: 'viewer',
      query: placeSchema,
      answer: json(placeAnswer),
      example: { query: { letter: 'm' } },
      handle: async ({ query: { letter, ...filter }, database }) => ({
        at: await marks.placeOf(
          database,
          {
            ...(await readyFilter(database.pool, filter)),
            order: await orderOf(filter.sort, filter.find, database),
          },
          letter.toLowerCase(),
        ),
      }),
    }),
    ...(
      [
        ['csv', 'text/csv', ','],
        ['tsv', 'text/tab-separated-values', '\t'],
      ] as const
    ).map(([ending, mediaType, delimiter]) =>
      route({
        method: 'get',
        path: `/contacts.${ending}`,
        summary: `Contacts as a table (${ending}).`,
        may: 'viewer',
        query: tableSchema,
        answer: file(mediaType),
        example: { query: { fields: 'givenName,familyName,email' } },
        handle: async ({ query: { fields, ...filter }, database }) => ({
          name: named(ending),
          body: await exportTable(database, filter, delimiter, fieldsOf(fields)),
        }),
      }),
    ),
    route({
      method: 'get',
      path: '/contacts.xlsx',
      summary: 'Contacts as a spreadsheet.',
      may: 'viewer',
      query: tableSchema,
      answer: file('application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'),
      example: { query: { fields: 'givenName,familyName' } },
      handle: async ({ query: { fields, ...filter }, database }) => ({
        name: named('xlsx'),
        body: (await exportSheet(database, filter, fieldsOf(fields))).body,
      }),
    }),
    route({
      method: 'get',
      path: '/contacts.jsonl',
      summary: 'Contacts as JSON, one a line.',
      may: 'viewer',
      query: contactFilterSchema,
      answer: file('application/jsonl; charset=utf-8'),
      example: { query: { where: '{"field":"tags","op":"is","value":["Regatta"]}' } },
      handle: async ({ query, database }) => ({ name: named('jsonl'), body: await exportLines(database, query) }),
    }),
    route({
      method: 'get',
      path: '/contacts.vcf',
      summary: 'Contacts as cards (vCard).',
      may: 'viewer',
      query: cardsSchema,
      answer: file('text/vcard'),
      example: { query: { version: '4.0' } },
      handle: async ({ query: { version, ...filter }, database }) => ({
        name: named('vcf'),
        body: await exportCards(database, filter, version),
      }),
    }),
    route({
      method: 'get',
      path: '/contacts/:file{[0-9]+\\.vcf}',
      summary: 'One contact as a card (vCard).',
      may: 'viewer',
      params: object({
        file: string()
          .matches(/^\d{1,9}\.vcf$/)
          .required(),
      }),
      query: cardsSchema,
      answer: file('text/vcard'),
      example: { params: { file: '1.vcf' } },
      handle: async ({ params, query: { version }, database }) => {
        const id = Number.parseInt(params.file, 10);
        return { name: `contact-${id}.vcf`, body: await exportCard(database, id, version) };
      },
    }),
    ...layoutRoutes(),
    route({
      method: 'get',
      path: '/labels',
      summary: 'Mailing labels of contacts that have an address.',
      may: 'viewer',
      query: contactFilterSchema,
      answer: json(labelsAnswer),
      example: { query: { stage: 'Donor' } },
      handle: ({ query, database }) => mailingLabels(database, query, config.country),
    }),
    route({
      method: 'post',
      path: '/contacts',
      summary: 'Enters a contact by hand.',
      may: 'editor',
      body: entrySchema,
      answer: json(enteredAnswer, 201),
      example: { body: ENTRY },
      handle: ({ body, database }) => enterContact(database, body, config.country),
    }),
    route({
      method: 'post',
      path: '/contacts/check',
      summary: 'Who may be meant by what was typed, and what clashes with it.',
      may: 'editor',
      body: entrySchema,
      answer: json(entryCheckAnswer),
      example: { body: ENTRY },
      handle: ({ body, database }) => checkEntry(database, body, config.country),
    }),
    route({
      method: 'post',
      path: '/contacts/:id/facts',
      summary: 'Adds what was typed to a contact that is here.',
      may: 'editor',
      params: idSchema,
      body: entrySchema,
      answer: json(factsAnswer),
      example: { params: { id: 1 }, body: ENTRY },
      handle: ({ params, body, database }) => addFacts(database, params.id, body, config.country),
    }),
    route({
      method: 'post',
      path: '/contacts/:id/permissions',
      summary: 'Records that somebody allowed a channel or wants nothing on it.',
      may: 'editor',
      params: idSchema,
      body: permissionSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 }, body: { channel: 'email', state: 'allowed', how: 'on the phone' } },
      handle: ({ params, body, database }) => recordPermission(database, params.id, body),
    }),
    route({
      method: 'get',
      path: '/stops',
      summary: 'Who said what of being written to or called: of a person, of an address, or of all addresses.',
      may: 'viewer',
      query: askStopsSchema,
      answer: json(stopAnswerAnswer),
      example: { query: { find: 'maya@quillhaven.example' } },
      handle: ({ query, database }) => askStops(database, marks, query, config.country),
    }),
    route({
      method: 'post',
      path: '/stops',
      summary: 'Keeps that addresses are not to be written to or called, whoever has them now or later.',
      may: 'editor',
      wholeBook: true,
      body: stopsSchema,
      answer: json(runAnswer),
      example: { body: { addresses: ['maya@quillhaven.example'], channels: ['email'], how: 'by letter' } },
      handle: ({ body, database }) => stopAddresses(database, body, config.country),
    }),
    route({
      method: 'get',
      path: '/contacts/:id',
      summary: 'One contact in full; one that was merged leads to the one that took it in.',
      may: 'viewer',
      params: idSchema,
      answer: json(contactDetailAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => contactDetail(database, params.id),
    }),
    route({
      method: 'get',
      path: '/contacts/:id/history',
      summary: 'What happened to a contact, newest first.',
      may: 'viewer',
      params: idSchema,
      answer: json(listOf(historyEntryAnswer)),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => contactHistory(database, params.id),
    }),
    route({
      method: 'patch',
      path: '/contacts/:id',
      summary: 'Edits values of a contact.',
      may: 'editor',
      params: idSchema,
      body: editsSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 }, body: { edits: [{ field: 'nickname', text: 'May' }] } },
      handle: ({ params, body: { edits, despite }, database }) =>
        editContact(database, params.id, edits, config.country, despite),
    }),
    route({
      method: 'delete',
      path: '/contacts/:id',
      summary: 'Deletes a contact; it can be brought back.',
      may: 'editor',
      params: idSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => setDeleted(database, params.id, true),
    }),
    route({
      method: 'post',
      path: '/contacts/:id/restore',
      summary: 'Brings a deleted contact back.',
      may: 'editor',
      params: idSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => setDeleted(database, params.id, false),
    }),
    route({
      method: 'post',
      path: '/contacts/:id/look',
      summary: 'Says that one has a contact on screen, and hears who else does.',
      may: 'viewer',
      params: idSchema,
      answer: json(listOf(lookerAnswer)),
      example: { params: { id: 1 } },
      handle: ({ params, database, actor }) => lookAtContact(database, params.id, actor),
    }),
    route({
      method: 'delete',
      path: '/contacts/:id/look',
      summary: 'Says that one looks at a contact no more.',
      may: 'viewer',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database, actor }) => leaveContact(database, params.id, actor),
    }),
    route({
      method: 'get',
      path: '/referrals',
      summary: 'Who referred whom, and what is owed for it.',
      may: 'viewer',
      answer: json(referralsAnswer),
      example: {},
      handle: ({ database }) => listReferrals(database),
    }),
    route({
      method: 'post',
      path: '/pictures',
      summary: 'Takes a picture in; what comes back names it.',
      may: 'editor',
      body: 'file',
      limitBytes: PICTURE_LIMIT_BYTES,
      answer: json(pictureAnswer, 201),
      example: {},
      handle: async ({ stream, database }) => keepPicture(database, await readWhole(stream, PICTURE_LIMIT_BYTES)),
    }),
    route({
      method: 'get',
      path: '/pictures/:hash',
      summary: 'A picture.',
      may: 'viewer',
      params: object({ hash: string().max(100).required() }),
      answer: file('image/webp'),
      example: { params: { hash: '0' } },
      handle: async ({ params, database }) => {
        const found = await findPicture(database, params.hash);
        if (!found) throw refuse.noSuchPicture();
        return {
          mediaType: found.mediaType,
          body: new Uint8Array(found.bytes),
          cache: 'private, max-age=31536000, immutable',
        };
      },
    }),
  ];
}

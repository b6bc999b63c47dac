import {
  activityChangedAnswer,
  activityChangeSchema,
  activityHistoryAnswer,
  activityMadeAnswer,
  activityPageAnswer,
  activityQuerySchema,
  activitySchema,
  calendarAnswer,
  contactFilterSchema,
  dueAnswer,
  dueQuerySchema,
  fileMadeAnswer,
  fileNameSchema,
  idSchema,
  runAnswer,
  touchSettingsAnswer,
  touchSettingsSchema,
} from '@gray-loom/wire';
import { FILE_LIMIT_BYTES } from '@gray-loom/core/activity';
import { boolean, number, object, string } from 'yup';
import { file, json, nothing, route, type Route } from '../../http/declare';
import { activityHistory, activityPage, addActivity, changeActivity, removeActivity } from './activities';
import { appointmentFile, calendarOf, renewCalendar } from './calendar';
import { due } from './due';
import { exportActivities } from './export-activities';
import { addFile, fileAsKept, fileAsPicture } from './files';
import { saveTouchSettings, touchRhythms } from './keeping-in-touch';

/** Everything dated that happens with a contact. */
export function activityRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/contacts/:id/activities',
      summary: 'The stream of a contact, the latest first; of an organization with that of its people.',
      may: 'viewer',
      params: idSchema,
      query: activityQuerySchema,
      answer: json(activityPageAnswer),
      example: { params: { id: 1 }, query: { kinds: 'note,talk' } },
      handle: ({ params, query, database }) => activityPage(database, params.id, query),
    }),
    route({
      method: 'post',
      path: '/contacts/:id/activities',
      summary: 'Writes down what happened with a contact, or is to happen.',
      may: 'editor',
      params: idSchema,
      body: activitySchema,
      answer: json(activityMadeAnswer, 201),
      example: { params: { id: 1 }, body: { kind: 'note', text: 'Asked for larch by the metre.' } },
      handle: ({ params, body, database }) => addActivity(database, params.id, body),
    }),
    route({
      method: 'patch',
      path: '/activities/:id',
      summary: 'Changes an entry, moves it, or says that it is done; what repeats comes again.',
      may: 'editor',
      params: idSchema,
      body: activityChangeSchema,
      answer: json(activityChangedAnswer),
      example: { params: { id: 1 }, body: { version: 1, text: 'Asked for oak by the metre.' } },
      handle: ({ params, body, database }) => changeActivity(database, params.id, body),
    }),
    route({
      method: 'delete',
      path: '/activities/:id',
      summary: 'Removes an entry; undo brings it back.',
      may: 'editor',
      params: idSchema,
      answer: json(runAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => removeActivity(database, params.id),
    }),
    route({
      method: 'get',
      path: '/activities/:id/history',
      summary: 'How an entry became what it is.',
      may: 'viewer',
      params: idSchema,
      answer: json(activityHistoryAnswer),
      example: { params: { id: 1 } },
      handle: ({ params, database }) => activityHistory(database, params.id),
    }),
    route({
      method: 'get',
      path: '/activities/:file{[0-9]+\\.ics}',
      summary: 'One appointment or task as a file for a calendar (iCalendar).',
      may: 'viewer',
      params: object({
        file: string()
          .matches(/^\d{1,9}\.ics$/)
          .required(),
      }),
      answer: file('text/calendar'),
      example: { params: { file: '1.ics' } },
      handle: ({ params, database }) => appointmentFile(database, Number.parseInt(params.file, 10)),
    }),
    route({
      method: 'get',
      path: '/activities.csv',
      summary: 'The activity of contacts as a table, one row for each entry.',
      may: 'viewer',
      query: contactFilterSchema,
      answer: file('text/csv'),
      example: { query: { where: '{"field":"stage","op":"is","value":["Donor"]}' } },
      handle: async ({ query, database }) => ({
        name: `activity-${new Date().toISOString().slice(0, 10)}.csv`,
        body: await exportActivities(database, query),
      }),
    }),
    route({
      method: 'post',
      path: '/contacts/:id/files',
      summary: 'Keeps a file on a contact.',
      may: 'editor',
      params: idSchema,
      headers: fileNameSchema,
      body: 'file',
      limitBytes: FILE_LIMIT_BYTES,
      answer: json(fileMadeAnswer, 201),
      example: { params: { id: 1 }, headers: { 'x-file-name': 'deed.pdf' } },
      handle: ({ params, headers, stream, database }) => addFile(database, params.id, headers['x-file-name'], stream),
    }),
    route({
      method: 'get',
      path: '/activities/:id/file',
      summary: 'A file as it was put here, to be saved; a PDF is shown where that is asked for.',
      may: 'viewer',
      params: idSchema,
      query: object({ show: boolean().default(false) }),
      answer: file('application/octet-stream'),
      example: { params: { id: 1 } },
      handle: ({ params, query, database }) => fileAsKept(database, params.id, query.show),
    }),
    route({
      method: 'get',
      path: '/activities/:id/picture',
      summary: 'A file that is a picture, drawn anew so that it can be shown safely.',
      may: 'viewer',
      params: idSchema,
      query: object({ edge: number().integer().min(16).max(2400).default(1600) }),
      answer: file('image/webp'),
      example: { params: { id: 1 } },
      handle: ({ params, query, database }) => fileAsPicture(database, params.id, query.edge),
    }),
    route({
      method: 'post',
      path: '/me/calendar',
      summary: 'Makes a secret address for one\u2019s own calendar; the one before is good no more.',
      may: 'viewer',
      answer: json(calendarAnswer, 201),
      example: {},
      handle: ({ database }) => renewCalendar(database),
    }),
    route({
      method: 'get',
      path: '/calendar/:file{[A-Za-z0-9_-]+\\.ics}',
      summary: 'The calendar of an account, for whoever knows its secret address (iCalendar).',
      may: 'anyone',
      params: object({
        file: string()
          .max(100)
          .matches(/\.ics$/)
          .required(),
      }),
      answer: file('text/calendar'),
      example: { params: { file: 'secret.ics' } },
      handle: ({ params, database }) => calendarOf(database, params.file.slice(0, -4)),
    }),
    route({
      method: 'get',
      path: '/keeping-in-touch',
      summary: 'What counts as being in touch, how often that is expected of whom, and how many are overdue.',
      may: 'viewer',
      answer: json(touchSettingsAnswer),
      example: {},
      handle: ({ database }) => touchRhythms(database),
    }),
    route({
      method: 'put',
      path: '/keeping-in-touch',
      summary: 'Changes what counts as being in touch, and how often that is expected of whom.',
      may: 'administrator',
      body: touchSettingsSchema,
      answer: nothing,
      example: { body: { kinds: ['talk', 'call'], rhythms: [{ stage: 'Donor', everyDays: 90 }] } },
      handle: ({ body, database }) => saveTouchSettings(database, body),
    }),
    route({
      method: 'get',
      path: '/due',
      summary: 'What waits to be done, by whom and when.',
      may: 'viewer',
      query: dueQuerySchema,
      answer: json(dueAnswer),
      example: { query: { of: 'team', days: 7 } },
      handle: ({ query, database }) => due(database, query),
    }),
  ];
}

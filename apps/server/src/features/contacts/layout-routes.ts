import {
  exportLayoutAnswer,
  exportLayoutSchema,
  gridLayoutAnswer,
  gridLayoutSchema,
  idSchema,
  listOf,
} from '@gray-loom/wire';
import { json, nothing, route, type Route } from '../../http/declare';
import { dropExportLayout, keepExportLayout, listExportLayouts } from './export-layouts';
import { dropGridLayout, keepGridLayout, listGridLayouts } from './grid-layouts';

/** Columns that were given a name: of the grid, and of tables that are taken out. */
export function layoutRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/grid-layouts',
      summary: 'Kept layouts of the grid.',
      may: 'viewer',
      answer: json(listOf(gridLayoutAnswer)),
      example: {},
      handle: ({ database }) => listGridLayouts(database),
    }),
    route({
      method: 'post',
      path: '/grid-layouts',
      summary: 'Keeps a layout of the grid under a name.',
      may: 'editor',
      body: gridLayoutSchema,
      answer: json(gridLayoutAnswer, 201),
      example: { body: { name: 'For calls', columns: [{ key: 'name', width: 190 }] } },
      handle: ({ body, database }) => keepGridLayout(database, body),
    }),
    route({
      method: 'delete',
      path: '/grid-layouts/:id',
      summary: 'Forgets a layout of the grid.',
      may: 'editor',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database }) => dropGridLayout(database, params.id),
    }),
    route({
      method: 'get',
      path: '/export-layouts',
      summary: 'Kept choices of columns for tables.',
      may: 'viewer',
      answer: json(listOf(exportLayoutAnswer)),
      example: {},
      handle: ({ database }) => listExportLayouts(database),
    }),
    route({
      method: 'post',
      path: '/export-layouts',
      summary: 'Keeps a choice of columns under a name.',
      may: 'editor',
      body: exportLayoutSchema,
      answer: json(exportLayoutAnswer, 201),
      example: { body: { name: 'For the printer', fields: ['givenName', 'familyName'], format: 'csv' } },
      handle: ({ body, database }) => keepExportLayout(database, body),
    }),
    route({
      method: 'delete',
      path: '/export-layouts/:id',
      summary: 'Forgets a choice of columns.',
      may: 'editor',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 1 } },
      handle: ({ params, database }) => dropExportLayout(database, params.id),
    }),
  ];
}

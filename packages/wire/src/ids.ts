import { number, object } from 'yup';
import { part, whole } from './parts';

/** The largest number that an id can have. */
const MOST = 2 ** 31 - 1;

/** An id as it stands in an address or a body, where it may be left out. */
export const anyId = () =>
  number()
    .transform((value: number, original: unknown) =>
      typeof original === 'string' && !/^\d{1,10}$/.test(original) ? NaN : value,
    )
    .typeError('This is no id.')
    .integer()
    .min(1)
    .max(MOST);

/** An id that has to be there. */
export const id = (message?: string) => anyId().required(message);

/** A place in a list, counted from 0. */
export const place = () => number().integer().min(0).max(MOST);

/** What most addresses name. */
export const idSchema = object({ id: id() });

/** What was made, by its id. */
export const madeAnswer = part({ id: whole() });

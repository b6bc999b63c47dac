import {
  array,
  boolean,
  mixed,
  number,
  object,
  string,
  type InferType,
  type MixedSchema,
  type ObjectShape,
  type Schema,
} from 'yup';

/**
 * Parts that answers are put together from. They say exactly what an answer holds, so that a test can hold real answers to
 * them and the description of the interface can be made from them.
 */

/** An object with these fields and no others. */
export const part = <F extends ObjectShape>(fields: F) => object(fields).exact().defined();
export const text = () => string().defined();
/** A text as somebody types it, without blanks around it. What is no text is left as it is and refused as that. */
export const trimmed = () =>
  string().transform((value: unknown) => (typeof value === 'string' ? value.trim() : value) as string);
export const whole = () => number().defined();
export const yesNo = () => boolean().defined();
/** One of a few words. */
export const oneOf = <T extends string>(...words: readonly T[]) =>
  mixed<T>()
    .oneOf([...words])
    .defined();
export const listOf = <S extends Schema>(of: S) => array(of).defined() as unknown as MixedSchema<InferType<S>[]>;

/** An object of any keys with values of one kind. */
export const recordOf = <S extends Schema>(of: S) =>
  mixed<Record<string, InferType<S>>>(
    (value): value is Record<string, InferType<S>> =>
      typeof value === 'object' &&
      value !== null &&
      !Array.isArray(value) &&
      Object.values(value).every((one) => of.isValidSync(one, { strict: true })),
  )
    .defined()
    .meta({ record: of });

/** What the core knows in full (a record, a mapping, a value); described here by its JSON type alone. */
export const core = <T extends NonNullable<NonNullable<unknown>>>(
  type: 'object' | 'array' | 'string' | 'any' = 'object',
) =>
  mixed<T>((value): value is T =>
    type === 'any' ? true : type === 'array' ? Array.isArray(value) : typeof value === type,
  )
    .defined()
    .meta({ json: type });

import { createHash } from 'node:crypto';
import { PICTURE_LIMIT_BYTES } from '@gray-loom/wire';
import sharp from 'sharp';
import type { Database } from '../../db/connect';
import { picture } from '../../db/schema';
import { refuse } from './refusals';
import { pictureByHash } from './statements/pictures';

const EDGE = 512;
const TAKEN = new Set(['jpeg', 'png', 'webp']);

/**
 * Keeps a picture: turned upright, made to fit 512 pixels, written anew as WebP so that no metadata (place, camera,
 * names) stays. Errors: a refusal that says what was wrong; nothing is kept then.
 */
export async function keepPicture({ db }: Pick<Database, 'db'>, bytes: Buffer): Promise<{ hash: string }> {
  if (bytes.length > PICTURE_LIMIT_BYTES)
    throw refuse.pictureTooLarge({ bytes: bytes.length, limitBytes: PICTURE_LIMIT_BYTES });
  let made: Buffer;
  try {
    const source = sharp(bytes, { limitInputPixels: 120_000_000, failOn: 'error' });
    const { format } = await source.metadata();
    if (!TAKEN.has(format)) throw refuse.noPicture();
    made = await source
      .rotate()
      .resize(EDGE, EDGE, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: 82 })
      .toBuffer();
  } catch {
    throw refuse.noPicture();
  }
  const hash = createHash('sha256').update(made).digest('hex').slice(0, 40);
  await db.insert(picture).values({ hash, mediaType: 'image/webp', bytes: made }).onConflictDoNothing();
  return { hash };
}

export async function findPicture(
  { pool }: Database,
  hash: string,
): Promise<{ mediaType: string; bytes: Buffer } | null> {
  const { rows } = await pictureByHash(pool, hash);
  return rows[0] ? { mediaType: rows[0].media_type, bytes: rows[0].bytes } : null;
}

import { createHash } from 'node:crypto';
import { PICTURE_LIMIT_BYTES } from '@gray-loom/wire';
import sharp from 'sharp';
import type { Database } from '../../db/connect';
import { picture } from '../../db/schema';
import { Problem } from '../../http/problem';

const EDGE = 512;
const TAKEN = new Set(['jpeg', 'png', 'webp']);

/**
 * Keeps a picture: turned upright, made to fit 512 pixels, written anew as WebP so that no metadata (place, camera,
 * names) stays. Errors: Problem with what was wrong; nothing is kept then.
 */
export async function keepPicture({ db }: Pick<Database, 'db'>, bytes: Buffer): Promise<{ hash: string }> {
  if (bytes.length > PICTURE_LIMIT_BYTES)
    throw new Problem(
      413,
      'pictureTooLarge',
      `The picture has ${(bytes.length / 1048576).toFixed(1)} MB; at most ${PICTURE_LIMIT_BYTES / 1048576} ` +
        `MB are taken. Nothing was kept; make it smaller first.`,
    );
  const refuse = () =>
    new Problem(
      422,
      'noPicture',
      'This is no picture that can be read. JPEG, PNG and WebP are taken; nothing was kept.',
    );
  let made: Buffer;
  try {
    const source = sharp(bytes, { limitInputPixels: 120_000_000, failOn: 'error' });
    const { format } = await source.metadata();
    if (!TAKEN.has(format)) throw refuse();
    made = await source
      .rotate()
      .resize(EDGE, EDGE, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: 82 })
      .toBuffer();
  } catch {
    throw refuse();
  }
  const hash = createHash('sha256').update(made).digest('hex').slice(0, 40);
  await db.insert(picture).values({ hash, mediaType: 'image/webp', bytes: made }).onConflictDoNothing();
  return { hash };
}

export async function findPicture(
  { pool }: Database,
  hash: string,
): Promise<{ mediaType: string; bytes: Buffer } | null> {
  const { rows } = await pool.query<{ media_type: string; bytes: Buffer }>(
    'select media_type, bytes from picture where hash = $1',
    [hash],
  );
  return rows[0] ? { mediaType: rows[0].media_type, bytes: rows[0].bytes } : null;
}

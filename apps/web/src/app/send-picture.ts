import { PICTURE_LIMIT_BYTES } from '@gray-loom/wire';
import { Refused } from './api';

/** Sends a picture; gives the name under which it is kept. */
export async function sendPicture(file: File): Promise<string> {
  if (file.size > PICTURE_LIMIT_BYTES)
    throw new Error(
      `${file.name} has ${(file.size / 1048576).toFixed(1)} MB; at most ${PICTURE_LIMIT_BYTES / 1048576} MB are taken. Make it smaller first.`,
    );
  const answer = await fetch('/api/pictures', {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: file,
  });
  const body: unknown = await answer.json();
  if (!answer.ok) throw new Refused(body as Refused['problem']);
  return (body as { hash: string }).hash;
}

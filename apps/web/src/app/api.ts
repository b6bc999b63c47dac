import type { ProblemDetails } from '@gray-loom/wire';

/** A refusal from the server in its own words. */
export class Refused extends Error {
  constructor(readonly problem: ProblemDetails) {
    super(problem.detail);
  }
}

/** The server could not be reached at all. */
export class Unreachable extends Error {
  constructor() {
    super('Gray Loom does not answer. Check that it is running; what you typed is still here.');
  }
}

async function answerOf<T>(request: Promise<Response>): Promise<T> {
  let response: Response;
  try {
    response = await request;
  } catch {
    throw new Unreachable();
  }
  if (response.ok) return (response.status === 204 ? undefined : await response.json()) as T;
  const problem = (await response.json().catch(() => null)) as ProblemDetails | null;
  throw new Refused(
    problem ?? {
      type: '',
      title: '',
      status: response.status,
      code: 'unknown',
      detail: `The server answered ${response.status}. Try again.`,
    },
  );
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body ?? {}),
});

export const api = {
  get: <T>(path: string, signal?: AbortSignal) => answerOf<T>(fetch(`/api${path}`, { signal })),
  post: <T>(path: string, body?: unknown, signal?: AbortSignal) =>
    answerOf<T>(fetch(`/api${path}`, { ...json('POST', body), ...(signal ? { signal } : {}) })),
  put: <T>(path: string, body: unknown) => answerOf<T>(fetch(`/api${path}`, json('PUT', body))),
  patch: <T>(path: string, body: unknown) => answerOf<T>(fetch(`/api${path}`, json('PATCH', body))),
  delete: <T>(path: string) => answerOf<T>(fetch(`/api${path}`, { method: 'DELETE' })),
};

/** Sends a file to be taken in, with progress. */
export const uploadFile = (file: File, onProgress: (done01: number) => void) => sendFile('/intakes', file, onProgress);

/** Sends a file with progress; fetch cannot tell how far an upload is. */
export function sendFile(
  path: string,
  file: File,
  onProgress: (done01: number) => void,
): { done: Promise<{ id: number }>; cancel: () => void } {
  const request = new XMLHttpRequest();
  const done = new Promise<{ id: number }>((resolve, reject) => {
    request.open('POST', `/api${path}`);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.setRequestHeader('X-File-Name', encodeURIComponent(file.name));
    request.setRequestHeader('X-File-Size', String(file.size));
    request.upload.onprogress = (event) => onProgress(event.total ? event.loaded / event.total : 0);
    request.onload = () => {
      const body = JSON.parse(request.responseText || '{}') as { id: number } & ProblemDetails;
      if (request.status < 300) resolve(body);
      else reject(new Refused(body));
    };
    request.onerror = () => reject(new Unreachable());
    request.onabort = () => reject(new Error('You stopped the upload. Nothing was taken in.'));
    request.send(file);
  });
  return { done, cancel: () => request.abort() };
}

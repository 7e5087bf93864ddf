import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Level = 0 | 1 | 2 | 3;

/** What the server said was wrong: words a person can act on, and a code. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly incident: string | null,
    readonly fields: Record<string, string> = {},
  ) {
    super(message);
  }

  /** The database or the program is away; the page keeps what it has and tries again. */
  get away(): boolean {
    return this.status === 503 || this.status === 0;
  }
}

// Looked up at each call, so that a test can stand in for the network.
export const api = createClient<paths>({
  baseUrl: location.origin,
  fetch: (request) => globalThis.fetch(request),
});

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

function errorFrom(status: number, body: unknown): ApiError {
  const said = (body ?? {}) as {
    code?: string;
    message?: string;
    incident?: string;
    fields?: Record<string, string>;
  };
  const message = said.message ?? `The program answered ${status}. Look again before you write it twice.`;
  return new ApiError(status, said.code ?? 'unknown', message, said.incident ?? null, said.fields ?? {});
}

/** The body of an answer, or an ApiError. */
export async function body<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw new ApiError(
      0,
      'unreachable',
      'The program does not answer. The page tries again; what you press again is not written twice.',
      null,
    );
  }
  if (!answer.response.ok || answer.data === undefined) throw errorFrom(answer.response.status, answer.error);
  return answer.data;
}

/** What is said where an error is none of the server's: nobody knows how far it came. */
export const UNKNOWN = 'That did not work. Look whether it is there before you write it again.';

const pressed = new Map<string, string>();
const REMEMBERED = 50;

/** A header that lets a post be sent twice and done once: the same form sent again has the same key. */
export function once(route: string, sent: object): { 'Idempotency-Key': string } {
  const mark = `${route} ${JSON.stringify(sent)}`;
  const key = pressed.get(mark) ?? crypto.randomUUID();
  pressed.set(mark, key);
  if (pressed.size > REMEMBERED) pressed.delete(pressed.keys().next().value ?? '');
  return { 'Idempotency-Key': key };
}

/** Send one file as it is; the server counts while it streams. */
export async function upload(file: File): Promise<Schemas['Uploaded']> {
  const path = `/api/exchange/files?name=${encodeURIComponent(file.name)}`;
  const call = fetch(path, { method: 'POST', body: file }).then(async (response) => {
    const said: unknown = await response.json().catch(() => null);
    return response.ok ? { data: said as Schemas['Uploaded'], response } : { error: said, response };
  });
  return body<Schemas['Uploaded']>(call);
}

/** The kinds of photographs that are taken in, for the field that chooses them. */
export const PICTURES = 'image/jpeg,image/png,image/webp';

/** Send a photograph as it is; the server makes it small and strips where it was taken. Sent again with the same
 * key it is kept once. */
export async function sendPhotoAs(
  log: string,
  key: string,
  file: File,
  caption: string,
): Promise<Schemas['Photo']> {
  const path = `/api/log/${log}/photos/${key}?caption=${encodeURIComponent(caption)}`;
  const call = fetch(path, { method: 'POST', body: file }).then(async (response) => {
    const said: unknown = await response.json().catch(() => null);
    return response.ok ? { data: said as Schemas['Photo'], response } : { error: said, response };
  });
  return body<Schemas['Photo']>(call);
}

/** The same for a photograph that is sent once. */
export const sendPhoto = (log: string, file: File, caption: string): Promise<Schemas['Photo']> =>
  sendPhotoAs(log, crypto.randomUUID(), file, caption);

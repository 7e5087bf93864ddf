// @vitest-environment jsdom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { api, ApiError, body, once, upload } from './client';

const answer = (status: number, said: unknown) =>
  vi.stubGlobal(
    'fetch',
    vi.fn(() =>
      Promise.resolve(
        new Response(JSON.stringify(said), { status, headers: { 'Content-Type': 'application/json' } }),
      ),
    ),
  );
const failure = async (call: Promise<unknown>): Promise<ApiError> => {
  try {
    await call;
  } catch (error) {
    if (error instanceof ApiError) return error;
  }
  throw new Error('no ApiError');
};

afterEach(() => vi.unstubAllGlobals());

describe('an answer', () => {
  it('is its body', async () => {
    answer(200, [{ id: 1, name: 'A', role: 'analyst' }]);
    expect(await body(api.GET('/api/people'))).toEqual([{ id: 1, name: 'A', role: 'analyst' }]);
  });

  it('that is an error keeps the words of the server', async () => {
    answer(409, { code: 'conflict', message: 'Somebody else decided this first.', incident: 'ab12' });
    const error = await failure(body(api.GET('/api/people')));
    expect([error.status, error.code, error.message, error.incident]).toEqual([
      409,
      'conflict',
      'Somebody else decided this first.',
      'ab12',
    ]);
    expect(error.away).toBe(false);
  });

  it('that does not come says nothing was lost', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(() => Promise.reject(new TypeError('refused'))),
    );
    const error = await failure(body(api.GET('/api/people')));
    expect(error.away).toBe(true);
    expect(error.message).toContain('not written twice');
  });

  it('of a database that is away counts as away', async () => {
    answer(503, { code: 'database_unavailable', message: 'x' });
    expect((await failure(body(api.GET('/api/people')))).away).toBe(true);
  });
});

describe('an upload', () => {
  it('sends the file under its name and returns its token', async () => {
    answer(200, { token: 't', name: 'a b.csv', bytes: 3 });
    const got = await upload(new File(['abc'], 'a b.csv'));
    expect(got.token).toBe('t');
    expect(vi.mocked(fetch).mock.calls[0]?.[0]).toBe('/api/exchange/files?name=a%20b.csv');
  });

  it('over the limit is an error with the words of the server', async () => {
    answer(413, { code: 'too_large', message: 'The file has 60.0 MB; the page takes up to 50 MB.' });
    expect((await failure(upload(new File(['abc'], 'a.csv')))).message).toContain('50 MB');
  });
});

describe('a key that makes a post safe to send twice', () => {
  it('is the same for the same form sent again, and new for another', () => {
    expect(once('run G-01', { state: 'hold' })['Idempotency-Key']).toMatch(/^[0-9a-f-]{36}$/);
    expect(once('run G-01', { state: 'hold' })).toEqual(once('run G-01', { state: 'hold' }));
    expect(once('run G-01', { state: 'hold' })).not.toEqual(once('run G-01', { state: 'release' }));
    expect(once('run G-01', { state: 'hold' })).not.toEqual(once('run G-02', { state: 'hold' }));
  });
});

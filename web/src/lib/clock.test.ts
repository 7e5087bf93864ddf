import { describe, expect, it } from 'vitest';
import { followServer, now } from './clock';

describe('the clock of the pages', () => {
  it('is the server’s, whatever the device says', () => {
    const server = Date.now() + 3 * 86_400_000;
    followServer(new Date(server).toISOString());
    expect(now()).toBeGreaterThanOrEqual(server);
    followServer(new Date().toISOString());
    expect(now()).toBeLessThan(server);
  });
});

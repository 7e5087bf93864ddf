import { describe, expect, it } from 'vitest';
import { followServer, now } from './clock';

describe('the clock of the pages', () => {
  it('shows the time of the server, not the time of the device', () => {
    const server = Date.now() + 3 * 86_400_000;
    followServer(new Date(server).toISOString());
    expect(now()).toBeGreaterThanOrEqual(server);
    followServer(new Date().toISOString());
    expect(now()).toBeLessThan(server);
  });
});

/** The pages use the server's clock, because the clock of a phone may be wrong, even by a day. */
let aheadMs = 0;

/** Sets the clock of the pages to the time that the server sends with every answer of `/api/state`. */
export const followServer = (moment: string): void => {
  aheadMs = Date.parse(moment) - Date.now();
};

/** The present time on the server's clock, in milliseconds since 1970. */
export const now = (): number => Date.now() + aheadMs;

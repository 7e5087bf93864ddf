/** The one clock of the pages is the server's: a phone's own clock may be wrong, even by a day. */
let aheadMs = 0;

/** Notes the server's moment, which comes with every answer of `/api/state`. */
export const followServer = (moment: string): void => {
  aheadMs = Date.parse(moment) - Date.now();
};

/** The present moment by the server's clock, in milliseconds since 1970. */
export const now = (): number => Date.now() + aheadMs;

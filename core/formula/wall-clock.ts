/** Local wall-clock time now, in milliseconds as if it were UTC; formulas work in the local time of the device. */
export const wallClock = (): number => Date.now() - new Date().getTimezoneOffset() * 60_000;

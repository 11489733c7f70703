/** What the clocks of this device show at an instant, in milliseconds as if it were UTC. */
export const onDevice = (instant: number): number => instant - new Date(instant).getTimezoneOffset() * 60_000;

/** Local wall-clock time now; formulas work in the local time of the device. */
export const wallClock = (): number => onDevice(Date.now());

/** How work with words is done here, as the desk says it. */
export const BY_COUNTING = 'A stand-in: it counts words on the device, and understands none of them.';
export const BY_POINTS = 'A stand-in: it counts colours and shapes on the device, and knows nothing of the world.';

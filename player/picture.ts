/** Only addresses that a picture can have; anything else is no picture. */
export const isPicture = (address: string): boolean => /^(https?:|data:image\/|blob:|\/)/i.test(address);

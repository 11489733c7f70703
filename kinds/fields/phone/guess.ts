import { defineGuess } from '../../../core/fields/guess.ts';

export default defineGuess({
  order: 74,
  fits: ({ fits, name, values }) =>
    fits((v) => /^\+?[\d\s()/.-]{6,20}$/.test(v)) &&
    (/phone|mobile|^tel/i.test(name) || values.some((v) => /^\+|^0\d[\d\s]{7,}/.test(v))),
});

import { defineGuess } from '../../../core/fields/guess.ts';

export default defineGuess({
  order: 90,
  fits({ values }) {
    const distinct = new Set(values);
    return (
      values.length >= 8 &&
      distinct.size >= 2 &&
      distinct.size <= 12 &&
      distinct.size <= values.length / 3 &&
      [...distinct].every((v) => v.length <= 30 && !/\d{3}/.test(v))
    );
  },
});

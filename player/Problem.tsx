/** What is wrong with an input. */
export const Problem = ({ words }: { words: string }) =>
  words ? (
    <p className="k-problem" role="alert">
      {words}
    </p>
  ) : null;

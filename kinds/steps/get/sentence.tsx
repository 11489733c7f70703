import { FoundSentence } from '../../../studio/logic/FoundSentence.tsx';
import type { SentenceProps } from '../../../studio/logic/StepSentence.tsx';

export default function Sentence(props: SentenceProps<'get'>) {
  return <FoundSentence {...props} one />;
}

import { TextCursorInput } from 'lucide-react';

export default () => TextCursorInput;

export { TextCursorInput as default } from 'lucide-react';

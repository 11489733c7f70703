export { Clipboard as default } from 'lucide';

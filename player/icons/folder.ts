export { Folder as default } from 'lucide';

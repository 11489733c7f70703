export { Tag as default } from 'lucide';

export { Bookmark as default } from 'lucide';

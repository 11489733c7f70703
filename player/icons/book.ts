export { Book as default } from 'lucide';

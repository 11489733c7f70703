export { List as default } from 'lucide';

export { Search as default } from 'lucide';

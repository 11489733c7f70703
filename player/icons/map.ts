export { Map as default } from 'lucide';

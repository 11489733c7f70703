export { Globe as default } from 'lucide';

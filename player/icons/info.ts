export { Info as default } from 'lucide';

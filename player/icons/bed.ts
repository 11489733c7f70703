export { Bed as default } from 'lucide';

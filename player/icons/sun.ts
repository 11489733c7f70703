export { Sun as default } from 'lucide';

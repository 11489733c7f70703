export { Bug as default } from 'lucide';

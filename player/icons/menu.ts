export { Menu as default } from 'lucide';

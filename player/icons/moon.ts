export { Moon as default } from 'lucide';

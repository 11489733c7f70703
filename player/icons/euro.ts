export { Euro as default } from 'lucide';

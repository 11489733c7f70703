export { Timer as default } from 'lucide';

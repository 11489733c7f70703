export { Play as default } from 'lucide';

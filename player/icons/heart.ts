export { Heart as default } from 'lucide';

export { Music as default } from 'lucide';

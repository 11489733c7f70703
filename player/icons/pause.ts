export { Pause as default } from 'lucide';

export { Mic as default } from 'lucide';

export { X as default } from 'lucide';

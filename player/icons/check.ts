export { Check as default } from 'lucide';

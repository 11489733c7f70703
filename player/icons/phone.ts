export { Phone as default } from 'lucide';

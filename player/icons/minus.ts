export { Minus as default } from 'lucide';

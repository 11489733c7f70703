export { Clock as default } from 'lucide';

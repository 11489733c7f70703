export { Ship as default } from 'lucide';

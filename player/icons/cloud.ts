export { Cloud as default } from 'lucide';

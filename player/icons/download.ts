export { Download as default } from 'lucide';

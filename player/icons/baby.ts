export { Baby as default } from 'lucide';

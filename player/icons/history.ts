export { History as default } from 'lucide';

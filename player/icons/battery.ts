export { Battery as default } from 'lucide';

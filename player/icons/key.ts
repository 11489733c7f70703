export { Key as default } from 'lucide';

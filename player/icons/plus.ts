export { Plus as default } from 'lucide';

export { Eye as default } from 'lucide';

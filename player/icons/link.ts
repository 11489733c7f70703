export { Link as default } from 'lucide';

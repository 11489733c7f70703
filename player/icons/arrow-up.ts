export { ArrowUp as default } from 'lucide';

export { ArrowDown as default } from 'lucide';

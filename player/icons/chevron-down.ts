export { ChevronDown as default } from 'lucide';

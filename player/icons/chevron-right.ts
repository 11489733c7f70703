export { ChevronRight as default } from 'lucide';

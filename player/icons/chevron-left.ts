export { ChevronLeft as default } from 'lucide';

export { ArrowRight as default } from 'lucide';

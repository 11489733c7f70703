export { SlidersHorizontal as default } from 'lucide';

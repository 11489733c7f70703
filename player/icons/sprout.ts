export { Sprout as default } from 'lucide';

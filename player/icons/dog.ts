export { Dog as default } from 'lucide';

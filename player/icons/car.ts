export { Car as default } from 'lucide';

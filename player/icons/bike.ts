export { Bike as default } from 'lucide';

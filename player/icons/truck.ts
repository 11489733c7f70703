export { Truck as default } from 'lucide';

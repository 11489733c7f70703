export { LifeBuoy as default } from 'lucide';

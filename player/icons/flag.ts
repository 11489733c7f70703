export { Flag as default } from 'lucide';

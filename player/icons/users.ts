export { Users as default } from 'lucide';

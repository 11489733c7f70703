export { House as default } from 'lucide';

export { Camera as default } from 'lucide';

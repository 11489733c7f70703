export { Package as default } from 'lucide';

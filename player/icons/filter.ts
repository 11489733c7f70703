export { ListFilter as default } from 'lucide';

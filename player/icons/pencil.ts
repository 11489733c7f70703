export { Pencil as default } from 'lucide';

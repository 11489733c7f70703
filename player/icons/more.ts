export { Ellipsis as default } from 'lucide';

export { Image as default } from 'lucide';

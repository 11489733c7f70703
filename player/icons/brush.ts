export { Brush as default } from 'lucide';

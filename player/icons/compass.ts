export { Compass as default } from 'lucide';

export { Upload as default } from 'lucide';

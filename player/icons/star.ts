export { Star as default } from 'lucide';

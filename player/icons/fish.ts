export { Fish as default } from 'lucide';

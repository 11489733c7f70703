export { Lock as default } from 'lucide';

export { Trophy as default } from 'lucide';

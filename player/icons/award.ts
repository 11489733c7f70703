export { Award as default } from 'lucide';

export { Calendar as default } from 'lucide';

export { Scissors as default } from 'lucide';

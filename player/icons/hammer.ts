export { Hammer as default } from 'lucide';

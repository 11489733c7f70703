export { Bell as default } from 'lucide';

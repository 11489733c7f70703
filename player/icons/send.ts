export { Send as default } from 'lucide';

export { Settings as default } from 'lucide';

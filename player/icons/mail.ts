export { Mail as default } from 'lucide';

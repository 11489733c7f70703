export { LogIn as default } from 'lucide';

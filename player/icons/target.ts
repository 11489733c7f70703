export { Target as default } from 'lucide';

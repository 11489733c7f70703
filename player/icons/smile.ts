export { Smile as default } from 'lucide';

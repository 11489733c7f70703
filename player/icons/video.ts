export { Video as default } from 'lucide';

export { Anchor as default } from 'lucide';

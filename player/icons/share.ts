export { Share2 as default } from 'lucide';

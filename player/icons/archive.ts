export { Archive as default } from 'lucide';

export { Cat as default } from 'lucide';

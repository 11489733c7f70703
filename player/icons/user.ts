export { User as default } from 'lucide';

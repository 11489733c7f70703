export { Flower2 as default } from 'lucide';

export { Leaf as default } from 'lucide';

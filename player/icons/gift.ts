export { Gift as default } from 'lucide';

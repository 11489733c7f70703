export { Coffee as default } from 'lucide';

export { Calculator as default } from 'lucide';

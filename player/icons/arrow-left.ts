export { ArrowLeft as default } from 'lucide';

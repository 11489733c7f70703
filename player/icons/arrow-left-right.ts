export { ArrowLeftRight as default } from 'lucide';

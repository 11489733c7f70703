export { Wrench as default } from 'lucide';

export { Repeat as default } from 'lucide';

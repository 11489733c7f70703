export { Tent as default } from 'lucide';

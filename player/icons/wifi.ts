export { Wifi as default } from 'lucide';

export { MapPin as default } from 'lucide';

export { Plane as default } from 'lucide';

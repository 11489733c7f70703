export { Stethoscope as default } from 'lucide';

export { Thermometer as default } from 'lucide';

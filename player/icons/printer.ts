export { Printer as default } from 'lucide';

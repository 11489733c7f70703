export { Printer as default } from 'lucide-react';

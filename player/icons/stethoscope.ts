export { Stethoscope as default } from 'lucide-react';

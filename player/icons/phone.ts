export { Phone as default } from 'lucide-react';

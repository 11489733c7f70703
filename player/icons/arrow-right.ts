export { ArrowRight as default } from 'lucide-react';

export { AtSign as default } from 'lucide-react';

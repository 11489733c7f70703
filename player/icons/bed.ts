export { Bed as default } from 'lucide-react';

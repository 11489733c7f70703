export { Heart as default } from 'lucide-react';

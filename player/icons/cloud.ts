export { Cloud as default } from 'lucide-react';

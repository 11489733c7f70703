export { Minus as default } from 'lucide-react';

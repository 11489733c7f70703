export { Percent as default } from 'lucide-react';

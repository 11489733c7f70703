export { Type as default } from 'lucide-react';

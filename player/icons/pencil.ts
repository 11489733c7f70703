export { Pencil as default } from 'lucide-react';

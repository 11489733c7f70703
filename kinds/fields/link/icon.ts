export { Link2 as default } from 'lucide-react';

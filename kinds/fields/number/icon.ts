export { Hash as default } from 'lucide-react';

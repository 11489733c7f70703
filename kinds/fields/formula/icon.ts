export { Sigma as default } from 'lucide-react';

export { Trophy as default } from 'lucide-react';

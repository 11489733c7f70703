export { Banknote as default } from 'lucide-react';

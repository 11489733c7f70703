export { ChevronLeft as default } from 'lucide-react';

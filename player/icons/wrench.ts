export { Wrench as default } from 'lucide-react';

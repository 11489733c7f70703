export { ToggleLeft as default } from 'lucide-react';

export { Hexagon as default } from 'lucide-react';

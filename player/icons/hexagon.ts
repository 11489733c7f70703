export { Hexagon as default } from 'lucide';

export { TriangleAlert as default } from 'lucide';

export { Puzzle as default } from 'lucide';

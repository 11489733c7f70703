export { ThumbsUp as default } from 'lucide';

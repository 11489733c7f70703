import { Star } from 'lucide-react';

export default () => Star;

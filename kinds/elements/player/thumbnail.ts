import { CirclePlay } from 'lucide-react';

export default () => CirclePlay;

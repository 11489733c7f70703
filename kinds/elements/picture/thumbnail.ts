import { Image } from 'lucide-react';

export default () => Image;

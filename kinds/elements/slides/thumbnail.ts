import { GalleryHorizontal } from 'lucide-react';

export default () => GalleryHorizontal;

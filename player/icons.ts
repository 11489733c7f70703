import {
  ArrowLeftRight, Bell, BookOpen, Bookmark, Calendar, Camera, Check, ChevronLeft, CircleDot, ClipboardList, Clock, Droplet, FileText, Flag, Heart, Hexagon,
  House, Image, Layers, List, Mail, MapPin, Menu, MessageSquare, Music, Package, Pencil, Phone, Plus, ScanLine, Search, Send, Settings, Star, Sun, Tag, Trash2,
  Truck, Users, Wrench, type LucideIcon,
} from 'lucide-react';

/** The icons an app may use, by the name it stores. */
export const ICONS: Record<string, LucideIcon> = {
  'arrow-left-right': ArrowLeftRight, bell: Bell, 'book-open': BookOpen, bookmark: Bookmark, calendar: Calendar, camera: Camera, check: Check,
  'chevron-left': ChevronLeft, 'circle-dot': CircleDot, 'clipboard-list': ClipboardList, clock: Clock, droplet: Droplet, 'file-text': FileText, flag: Flag,
  heart: Heart, hexagon: Hexagon, house: House, image: Image, layers: Layers, list: List, mail: Mail, 'map-pin': MapPin, menu: Menu,
  'message-square': MessageSquare, music: Music, package: Package, pencil: Pencil, phone: Phone, plus: Plus, scan: ScanLine, search: Search, send: Send,
  settings: Settings, star: Star, sun: Sun, tag: Tag, trash: Trash2, truck: Truck, users: Users, wrench: Wrench,
};
export const iconOf = (name: string | undefined): LucideIcon | undefined => (name ? ICONS[name] : undefined);

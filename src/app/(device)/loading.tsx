export { Opening as default } from '@/ui/kit/opening';

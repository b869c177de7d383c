export { Opening as default } from '@/ui/features/job/opening';

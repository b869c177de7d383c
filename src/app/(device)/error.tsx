'use client';

export { PageError as default } from '@/ui/kit/page-error';

export {
  guidePage,
  guidePages,
  licencesHtml,
  searchGuide,
  version,
  type GuideHit,
  type GuidePage,
} from './pages';

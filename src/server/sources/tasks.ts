import { defineTask } from '../platform';
import { readIntakeCard, takeIntakeCard } from './cards';
import { endIntake, readIntake, takeIntake } from './intake';

export const sourceTasks = [
  defineTask(
    readIntakeCard,
    (db, p) => readIntake(db, p.intake),
    (db, p, why) => endIntake(db, p.intake, why),
  ),
  defineTask(
    takeIntakeCard,
    (db, p) => takeIntake(db, p.intake),
    (db, p, why) => endIntake(db, p.intake, why),
  ),
];

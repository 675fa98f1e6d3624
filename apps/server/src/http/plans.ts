import { Router } from 'express';
import { MakeDecision } from '@bevrin/contract';
import type { MeasureJobs } from '../jobs/jobs.js';
import type { PlanStore } from '../plans/plans.js';

export const planRoutes = (plans: PlanStore, jobs: MeasureJobs): Router =>
  Router()
    .get(
      '/clips/:id/plan',
      async (request, response) => void response.json(await plans.planOf(request.params.id)),
    )
    .post('/clips/:id/decisions', async (request, response) => {
      const made = MakeDecision.parse(request.body);
      const plan = await plans.decide(request.params.id, made);
      if (made.decision.kind === 'overrule') await jobs.catchUp(request.params.id);
      response.status(201).json(plan);
    })
    .post('/clips/:id/decisions/undo', async (request, response) => {
      const plan = await plans.undo(request.params.id);
      await jobs.catchUp(request.params.id);
      response.json(plan);
    })
    .get(
      '/batches/:id/work',
      async (request, response) => void response.json(await plans.workOf(request.params.id)),
    );

import { Router } from 'express';
import { MakeDecision } from '@bevrin/contract';
import type { MeasureQueue } from '../jobs/queue.js';
import { actorOf } from './actor.js';
import type { PlanStore } from '../plans/plans.js';

export const planRoutes = (plans: PlanStore, queue: MeasureQueue): Router =>
  Router()
    .get(
      '/clips/:id/plan',
      async (request, response) => void response.json(await plans.planOf(request.params.id)),
    )
    .post('/clips/:id/decisions', async (request, response) => {
      const { who, decision } = MakeDecision.parse(request.body);
      const plan = await plans.decide(request.params.id, { name: who ?? actorOf(request).name }, decision);
      if (decision.kind === 'overrule') await queue.catchUp(request.params.id);
      response.status(201).json(plan);
    })
    .post('/clips/:id/decisions/undo', async (request, response) => {
      const plan = await plans.undo(request.params.id);
      await queue.catchUp(request.params.id);
      response.json(plan);
    })
    .get(
      '/batches/:id/work',
      async (request, response) => void response.json(await plans.workOf(request.params.id)),
    );

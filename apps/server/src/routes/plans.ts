import { Router } from 'express';
import { MakeDecision } from '@bevrin/contract';
import type { PlanStore } from '../plans.js';

export const planRoutes = (plans: PlanStore): Router =>
  Router()
    .get(
      '/clips/:id/plan',
      async (request, response) => void response.json(await plans.planOf(request.params.id)),
    )
    .post('/clips/:id/decisions', async (request, response) => {
      const made = MakeDecision.parse(request.body);
      response.status(201).json(await plans.decide(request.params.id, made));
    })
    .post(
      '/clips/:id/decisions/undo',
      async (request, response) => void response.json(await plans.undo(request.params.id)),
    )
    .get(
      '/batches/:id/work',
      async (request, response) => void response.json(await plans.workOf(request.params.id)),
    );

import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { BrowserRouter, Route, Routes } from 'react-router';
import { store } from './store.js';
import { BatchListView } from './batches/BatchListView.js';
import { BatchView } from './batch/BatchView.js';
import { ClipView, VersionView } from './clip/ClipView.js';
import { NotFound } from './parts/NotFound.js';
import { Shell } from './parts/Shell.js';
import { PlanView } from './plan/PlanView.js';
import { ReportView } from './report/ReportView.js';
import { SpecListView } from './specs/SpecListView.js';
import { SpecView } from './specs/SpecView.js';
import { TruthView } from './truth/TruthView.js';
import { WorkView } from './work/WorkView.js';
import './style.css';

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <BrowserRouter>
        <Routes>
          <Route element={<Shell />}>
            <Route path="/" element={<BatchListView />} />
            <Route path="/batches/:batchId" element={<BatchView />} />
            <Route path="/batches/:batchId/clips/:clipId" element={<ClipView />} />
            <Route path="/batches/:batchId/clips/:clipId/versions/:versionId" element={<VersionView />} />
            <Route path="/batches/:batchId/clips/:clipId/plan" element={<PlanView />} />
            <Route path="/batches/:batchId/work" element={<WorkView />} />
            <Route path="/batches/:batchId/report" element={<ReportView />} />
            <Route path="/batches/:batchId/truth" element={<TruthView />} />
            <Route path="/specs" element={<SpecListView />} />
            <Route path="/specs/:specId" element={<SpecView />} />
            <Route path="*" element={<NotFound />} />
          </Route>
        </Routes>
      </BrowserRouter>
    </Provider>
  </StrictMode>,
);

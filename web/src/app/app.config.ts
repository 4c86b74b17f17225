import { provideHttpClient, withFetch } from '@angular/common/http';
import { provideZonelessChangeDetection, type ApplicationConfig } from '@angular/core';
import { provideRouter, withComponentInputBinding, withRouterConfig } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideStore } from '@ngrx/store';
import { NZ_DATE_CONFIG, en_GB, provideNzI18n } from 'ng-zorro-antd/i18n';
import { provideNzWave } from 'ng-zorro-antd/core/wave';
import { routes } from './app.routes';
import './documents';
import { focusFeature } from './shell/focus.state';
import { liveEffects, liveFeature } from './client/live.state';
import { sessionEffects, sessionFeature } from './client/session.state';

export const appConfig: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    provideHttpClient(withFetch()),
    provideRouter(routes, withComponentInputBinding(), withRouterConfig({ onSameUrlNavigation: 'reload', canceledNavigationResolution: 'computed' })),
    provideStore({
      [sessionFeature.name]: sessionFeature.reducer,
      [focusFeature.name]: focusFeature.reducer,
      [liveFeature.name]: liveFeature.reducer,
    }),
    // Nothing moves when it is pressed.
    provideNzWave({ disabled: true }),
    provideNzI18n(en_GB),
    { provide: NZ_DATE_CONFIG, useValue: { firstDayOfWeek: 1 } },
    provideEffects(sessionEffects, liveEffects),
  ],
};

/** An empty page of Angular and NG-ZORRO: what the first load of Terrace is measured against. */
import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzDropDownModule } from 'ng-zorro-antd/dropdown';
import { NzInputModule } from 'ng-zorro-antd/input';
import { NzLayoutModule } from 'ng-zorro-antd/layout';
import { NzMenuModule } from 'ng-zorro-antd/menu';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { NzSelectModule } from 'ng-zorro-antd/select';

@Component({
  selector: 'bench-root',
  imports: [NzButtonModule, NzDropDownModule, NzInputModule, NzLayoutModule, NzMenuModule, NzModalModule, NzSelectModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nz-layout
      ><nz-sider
        ><ul nz-menu>
          <li nz-menu-item>Empty</li>
        </ul></nz-sider
      >
      <nz-content
        ><input nz-input /><nz-select /><button nz-button nz-dropdown [nzDropdownMenu]="menu">Menu</button
        ><nz-dropdown-menu #menu="nzDropdownMenu"
          ><ul nz-menu>
            <li nz-menu-item>One</li>
          </ul></nz-dropdown-menu
        ></nz-content
      >
    </nz-layout>
    <nz-modal [nzVisible]="false" />
  `,
})
class EmptyPage {}

bootstrapApplication(EmptyPage, { providers: [provideZonelessChangeDetection(), provideRouter([])] }).catch((error: unknown) => console.error(error));

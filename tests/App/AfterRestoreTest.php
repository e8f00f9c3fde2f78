<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Tests\Support\Phones;

/** What happens on the phone behind the restore is seen there, point by point. */
final class AfterRestoreTest extends ApiTestCase
{
    public function testPointsTickThemselvesOff(): void
    {
        $this->signIn();
        $n = $this->openTray();
        foreach ([['kind' => 'backup'], ['kind' => 'conversion']] as $asked) {
            $this->askAndWork($n, $asked);
        }
        self::assertSame([], $this->points($n), 'Nothing is there yet.');
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $points = [
            'number_settled' => 'ready', 'started_anew' => 'ready', 'messenger_opened' => 'to_do',
            'contacts_allowed' => 'to_do',
            'photos_allowed' => 'to_do',
        ];
        self::assertSame($points, $this->points($n));
        $acts = [
            'open' => 'messenger_opened', 'allow_contacts' => 'contacts_allowed', 'allow_photos' => 'photos_allowed',
        ];
        foreach ($acts as $act => $point) {
            $path = '/api/standin/phones/'.Phones::RECEIVING.'/acts';
            $this->call('POST', $path, ['act' => $act.' otterpost']);
            $points[$point] = 'ready';
            self::assertSame($points, $this->points($n));
            $this->call('POST', $path, ['act' => $act.' otterpost'], 422);
        }
        $this->handOver($n);
        self::assertSame([], $this->points($n), 'Whose phone it is now is nobody’s business here.');
    }

    /** @return array<array-key, mixed> states by point */
    private function points(int $tray): array
    {
        $points = $this->value($this->call('GET', "/api/trays/$tray"), 'moves', 0, 'after_restore');

        return array_column((array) $points, 'status', 'id');
    }
}

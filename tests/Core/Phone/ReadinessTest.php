<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Phone;

use Geschenk\Core\Phone\AppState;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Readiness;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Platform;
use PHPUnit\Framework\TestCase;

final class ReadinessTest extends TestCase
{
    public function testAPhoneThatIsReady(): void
    {
        $points = self::points($this->phone());
        self::assertTrue(Readiness::allReady($points), json_encode($points) ?: '');
        self::assertSame(
            ['cable', 'unlocked', 'computer_allowed', 'battery', 'space', 'messenger', 'number'],
            array_column($points, 'id'),
        );
        self::assertSame([Point::TECHNICIAN, Point::OWNER], [$points[0]->who(), $points[1]->who()]);
    }

    public function testWhatIsNotReadySaysWhatToDo(): void
    {
        self::assertSame(
            [
                'cable' => 'to_do', 'unlocked' => 'unseen', 'computer_allowed' => 'unseen', 'battery' => 'unseen',
                'space' => 'unseen', 'messenger' => 'unseen', 'number' => 'unseen',
            ],
            $this->statuses($this->phone(plugged: false, admitted: false, battery: null, free: null, apps: null)),
        );
        self::assertSame(
            'to_do', $this->statuses($this->phone(admitted: false, free: null, apps: null))['computer_allowed'],
        );
        self::assertSame('to_do', $this->statuses($this->phone(battery: 29))['battery']);
        self::assertSame('to_do', $this->statuses($this->phone(free: 1_099))['space'], 'A tenth stays free.');
        self::assertSame('ready', $this->statuses($this->phone(free: 1_100))['space']);
        self::assertSame('to_do', $this->statuses($this->phone(apps: []))['messenger']);
        self::assertSame(
            'to_do', $this->statuses($this->phone(apps: [new AppState('otterpost', 'O', '1', null)]))['number'],
        );
        self::assertSame(
            'to_do',
            $this->statuses($this->phone(apps: [new AppState('otterpost', 'O', '1', '+447700900002')]))['number'],
        );
    }

    public function testAndroidAsksForDebuggingFirst(): void
    {
        $off = $this->statuses($this->phone(platform: 'android', debugging: false, admitted: false));
        self::assertSame(['to_do', 'unseen'], [$off['usb_debugging'], $off['computer_allowed']]);
        $on = $this->statuses($this->phone(platform: 'android', debugging: true, admitted: false));
        self::assertSame(['ready', 'to_do'], [$on['usb_debugging'], $on['computer_allowed']]);
    }

    /** @return array<string, string> */
    private function statuses(PhoneState $phone): array
    {
        return array_column(self::points($phone), 'status', 'id');
    }

    /** @return list<Point> */
    private static function points(PhoneState $phone): array
    {
        return [
            ...Readiness::ofPhone($phone, Role::Receives, 1_000),
            ...Readiness::ofAccount($phone, Role::Receives, 'otterpost', 'Otterpost', '+447700900001'),
        ];
    }

    /** @param list<AppState>|null $apps */
    private function phone(
        string $platform = 'ios',
        bool $plugged = true,
        bool $admitted = true,
        ?bool $debugging = null,
        ?int $battery = 80,
        ?int $free = 9_000,
        ?array $apps = [new AppState('otterpost', 'Otterpost', '7', '+447700900001')],
    ): PhoneState {
        return new PhoneState(
            'S', 'M', 'M', Platform::from($platform), '1', $plugged, true, $battery, $debugging, $admitted,
            $free, $apps,
        );
    }
}

<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\User;
use Geschenk\App\Records;
use Geschenk\App\Security\Staff;
use Geschenk\App\Tray\Standing\Calls;
use Geschenk\App\Tray\Standing\Shelf;
use Geschenk\App\Tray\Standing\TrayStatus;
use Symfony\Component\Clock\MockClock;

/** Since when something waits for a person, and a screen above the bench that says so without a name. */
final class CallsTest extends ApiTestCase
{
    private const PASSWORD = 'the heron waits for low tide';

    public function testSinceWhenATrayWaitsStaysUntilItWaitsForSomethingElse(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->look();
        $this->isWatched = false;
        $clock = new MockClock('2026-11-26 10:00:00');
        self::assertNotNull($this->since($n));
        $this->forget();
        self::assertNull($this->since($n), 'It has begun this moment.');
        $this->calls($clock)->note();
        self::assertSame('2026-11-26T10:00:00.000Z', $this->since($n));
        $clock->sleep(600);
        $this->calls($clock)->note();
        self::assertSame('2026-11-26T10:00:00.000Z', $this->since($n), 'It still waits for the same.');
        $this->call('POST', '/api/standin/phones/RECEIVES1/acts', ['act' => 'lock']);
        $this->watch();
        $this->forget();
        $this->calls($clock)->note();
        self::assertSame('2026-11-26T10:10:00.000Z', $this->since($n));
    }

    public function testTheWallSaysWhatIsToDoAndNobodysNameOrNumber(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->receiving->change(static fn (array $s): array => ['apps' => array_map(
            static fn (array $app): array => ['number' => '+447700900999'] + $app, $s['apps'],
        )] + $s);
        $this->look();
        self::assertStringContainsString('900', (string) json_encode($this->call('GET', "/api/trays/$n")['waits']));
        $wall = $this->call('GET', '/api/wall');
        self::assertSame($n, $this->value($wall, 'trays', 0, 'number'));
        self::assertSame("$n-B", $this->value($wall, 'trays', 0, 'waits', 'tag'));
        self::assertSame('Otterpost: not the same number', $this->value($wall, 'trays', 0, 'waits', 'text'));
        $said = (string) json_encode($wall);
        foreach (['Test Person', 'café', '900', 'GIVES0001', 'Maker'] as $word) {
            self::assertStringNotContainsString($word, $said);
        }
    }

    public function testAScreenOnTheWallSeesTheWallAndNothingElse(): void
    {
        self::getContainer()->get(Staff::class)->add('wall1', 'Wall', User::WALL, self::PASSWORD, 'orla');
        $this->signIn();
        $n = $this->openTray();
        $this->signIn('wall1', self::PASSWORD);
        self::assertSame('wall', $this->value($this->call('GET', '/api/session'), 'user', 'role'));
        self::assertSame([$n], array_column((array) $this->call('GET', '/api/wall')['trays'], 'number'));
        foreach (['/api/trays', "/api/trays/$n", '/api/phones', '/api/log', '/api/users', "/trays/$n/sheet"] as $path) {
            $this->browser->request('GET', $path);
            self::assertSame(403, $this->browser->getResponse()->getStatusCode(), $path);
        }
        $this->call('POST', "/api/trays/$n/hand-over", [], 403);
        $this->call('PUT', '/api/session/language', ['language' => 'de']);
    }

    private function since(int $n): mixed
    {
        return $this->value($this->call('GET', "/api/trays/$n"), 'waits', 'since');
    }

    private function calls(MockClock $clock): Calls
    {
        $container = self::getContainer();

        return new Calls(
            $container->get(EntityManagerInterface::class), $container->get(Records::class),
            $container->get(Shelf::class), $container->get(TrayStatus::class), $clock,
        );
    }

    private function forget(): void
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->createQuery('UPDATE '.Tray::class.' t SET t.waitsMark = NULL, t.waitsSince = NULL')->execute();
        $entities->clear();
    }
}

<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\DataFolder;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\Support\Phones;

/** The bench as it is seen: what a phone says of itself, and another one of its make in its place. */
final class BenchTest extends ApiTestCase
{
    public function testAPhoneSaysWhatItIsAndWhatLetsThisComputerIn(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->giving->change(static fn (array $s): array => ['managed' => true, 'battery' => 100] + $s);
        $this->receiving->change(static fn (array $s): array => ['admitted' => false] + $s);
        $giving = $this->live(Phones::GIVING);
        self::assertSame(
            [true, true, true, true, false, 100],
            [
                $giving['open'], $giving['debugging'], $giving['admitted'], $giving['managed'], $giving['charging'],
                $giving['battery'],
            ],
        );
        $receiving = $this->live(Phones::RECEIVING);
        self::assertSame(
            [false, null, false, null, true],
            [
                $receiving['open'], $receiving['debugging'], $receiving['admitted'], $receiving['managed'],
                $receiving['charging'],
            ],
        );
    }

    public function testAnotherPhoneOfTheSameMakeIsNotTakenForTheOneThatIsAway(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->watch();
        $folder = self::getContainer()->get(DataFolder::class)->phones();
        Phones::receiving($folder, ['serial' => 'RECEIVES2']);
        $this->watch();
        self::assertNull($this->lookAlike($n), 'The right one is here too.');
        Folder::remove($this->receiving->path);
        $this->watch();
        self::assertSame('RECEIVES2', $this->lookAlike($n));
        $points = $this->value($this->call('GET', "/api/trays/$n/readiness"), 'phones', 1, 'points');
        self::assertSame(['bench'], array_column((array) $points, 'id'), 'It does not stand in for it.');
        // One of another make is no look-alike, nor is one that is in a tray of its own.
        Phones::receiving($folder, ['serial' => 'RECEIVES2', 'model' => 'Newer']);
        $this->watch();
        self::assertNull($this->lookAlike($n));
        // The phone itself comes back and is known again.
        Phones::receiving($folder);
        $this->watch();
        self::assertTrue($this->value($this->call('GET', "/api/trays/$n"), 'phones', 1, 'live', 'on_bench'));
    }

    private function lookAlike(int $n): mixed
    {
        return $this->value($this->call('GET', "/api/trays/$n"), 'phones', 1, 'look_alike');
    }

    /** @return array<array-key, mixed> */
    private function live(string $serial): array
    {
        foreach ((array) $this->call('GET', '/api/phones')['phones'] as $phone) {
            if (is_array($phone) && $serial === $this->value($phone, 'live', 'serial')) {
                self::assertIsArray($phone['live']);

                return $phone['live'];
            }
        }
        self::fail("$serial is not on the bench.");
    }
}

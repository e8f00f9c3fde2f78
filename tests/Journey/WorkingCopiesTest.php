<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Files\WorkingPlaces;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Scratch;

/** What a move's work leaves lies sealed, and its keys go when it does. */
final class WorkingCopiesTest extends ApiTestCase
{
    use Scratch;

    public function testWhatTheHandOverDropsOpensWithNoKeyOfLater(): void
    {
        [$n, $folder] = $this->converted();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame(
            ['checks.sealed', 'conversion.sealed'],
            array_values(array_diff(scandir($folder) ?: [], ['.', '..'])),
        );
        self::assertTrue($this->files()->hasReadBack($this->of($n)));
        $messages = $this->files()->plan($this->of($n))->summary()['messages'];
        exec(sprintf('cp -a %s %s', escapeshellarg($folder), escapeshellarg($this->path('before'))));
        $ring = (string) file_get_contents($this->data()->path.'/keys/ring');
        $this->handOver($n);

        // Whoever has taken the disk out before puts all of it back but the ring.
        self::assertContains("conversion $n-1", Keyring::idsIn($ring));
        self::assertNotContains("conversion $n-1", $this->keys());
        Folder::remove($folder);
        exec(sprintf('cp -a %s %s', escapeshellarg($this->path('before')), escapeshellarg($folder)));
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        self::assertFalse($this->files()->hasReadBack($this->of($n)));
        self::assertNull($this->files()->planHash($this->of($n)));
        try {
            $this->files()->manifest($this->of($n));
            self::fail('It opens.');
        } catch (\UnexpectedValueException) {
        }
        self::assertGreaterThan(100, $messages);
    }

    public function testWhatIsLeftOfThePlanSaysNothingAndGoesWithItsTray(): void
    {
        [$n, $folder] = $this->converted();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $planned = $this->files()->plan($this->of($n));
        $before = $planned->summary();
        $this->handOver($n);
        self::assertSame(['checks.sealed'], array_values(array_diff(scandir($folder) ?: [], ['.', '..'])));
        $left = $this->files()->plan($this->of($n));
        self::assertSame([$before['messages'], $before['conversations']], [
            $left->summary()['messages'], $left->summary()['conversations'],
        ]);
        self::assertGreaterThan(0, $planned->connect()->one(
            'SELECT COUNT(*) AS n FROM message WHERE body IS NOT NULL',
        )?->int('n'));
        self::assertSame(0, $left->connect()->one(
            'SELECT COUNT(*) AS n FROM message WHERE body IS NOT NULL',
        )?->int('n'));
        self::assertTrue($this->value($this->call('GET', "/api/trays/$n/moves/1/arrival"), 'totals', 'complete'));
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringNotContainsString(
            'can’t be read any more', (string) $this->browser->getResponse()->getContent(),
        );

        self::assertContains("checks $n-1", $this->keys());
        $this->call('POST', "/api/trays/$n/erase", ['number' => (string) $n], 202);
        self::getContainer()->get(Erasing::class)->do($n);
        self::assertSame([], array_filter($this->keys(), static fn (string $id): bool => str_contains($id, "$n-1")));
        self::assertDirectoryDoesNotExist($folder);
    }

    public function testWhatWasChangedSinceItWasRehearsedReachesNoPhone(): void
    {
        [$n, $folder] = $this->converted();
        $files = iterator_to_array(Folder::files($folder.'/conversion.sealed'), false);
        self::assertGreaterThan(5, count($files));
        $kept = [];
        foreach ($files as $file) {
            $path = "$folder/conversion.sealed/$file";
            $kept[$path] = (string) file_get_contents($path);
            file_put_contents($path, substr($kept[$path], 0, -1).chr(ord($kept[$path][-1]) ^ 1));
        }
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        $held = hash_file('sha256', $this->receiving->data('otterpost').'/Pouch.sqlite');
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame('failed', $this->value($this->move($n), 'run', 'state'));
        self::assertSame($held, hash_file('sha256', $this->receiving->data('otterpost').'/Pouch.sqlite'));

        // Converted anew, all is well.
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'), (string) json_encode($this->move($n)));
        self::assertCount(count($kept), array_filter(
            $kept, static fn (string $before, string $path): bool => !is_file($path)
                || file_get_contents($path) !== $before,
            \ARRAY_FILTER_USE_BOTH,
        ), 'Under another key.');
    }

    public function testWhatIsMoreThanMemoryHasIsMadeAnewOnTheDiskAndLeavesNothing(): void
    {
        $this->signIn();
        $places = self::getContainer()->get(WorkingPlaces::class);
        $tried = [];
        $made = $places->workIn('7-1', 1_000, static function (string $place) use ($places, &$tried): string {
            file_put_contents($place.'/made', 'x');
            $tried[] = [$places->isInMemory($place), count(scandir($place) ?: [])];

            return $places->isInMemory($place)
                ? throw new \Exception('Unable to execute statement: database or disk is full')
                : $place;
        });
        self::assertSame([[true, 3], [false, 3]], $tried, 'It begins with nothing again.');
        self::assertSame($this->data()->workings().'/7-1', $made);
        self::assertSame(['7-1'], $places->ids());
        $places->discard('7-1');
        self::assertSame([], $places->ids());
        // What fails on the disk, or otherwise, is nobody's second try.
        foreach ([[\PHP_INT_MAX, DiskFull::at('x')], [1_000, new \Exception('other')]] as [$bytes, $error]) {
            $tries = 0;
            try {
                $places->workIn('7-2', $bytes, static function () use (&$tries, $error): never {
                    ++$tries;
                    throw $error;
                });
            } catch (\Exception $caught) {
                self::assertSame([$error, 1], [$caught, $tries]);
            }
            $places->discard('7-2');
        }
    }

    /** @return array{int, string} number of a tray, and where its move's files lie */
    private function converted(): array
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame([], self::getContainer()->get(WorkingPlaces::class)->ids());

        return [$n, $this->data()->path."/trays/$n/moves/1"];
    }

    /** @return list<string> ids of what has a key */
    private function keys(): array
    {
        return Keyring::idsIn((string) file_get_contents($this->data()->path.'/keys/ring'));
    }

    private function of(int $n): Move
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);

        return $entities->getRepository(Tray::class)->findOneBy(['number' => $n])?->move(1) ?? self::fail();
    }

    private function files(): MoveFiles
    {
        return self::getContainer()->get(MoveFiles::class);
    }

    private function data(): DataFolder
    {
        return self::getContainer()->get(DataFolder::class);
    }
}

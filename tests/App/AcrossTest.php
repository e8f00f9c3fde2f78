<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Tests\Support\Phones;

/** All conversations looked through at once: by kind covered, for words only where all was uncovered. */
final class AcrossTest extends ApiTestCase
{
    public function testByKindIsCoveredUntilAllIsUncoveredWhichIsLogged(): void
    {
        $across = $this->backedUp();
        $photos = $this->call('GET', "$across/kinds/photos");
        self::assertTrue($photos['covered']);
        self::assertIsInt($photos['total']);
        self::assertGreaterThan(5, $photos['total']);
        self::assertCount(min(60, $photos['total']), (array) $photos['messages']);
        foreach (['photos', 'videos', 'voice', 'documents', 'links', 'places'] as $kind) {
            foreach ((array) $this->call('GET', "$across/kinds/$kind?uncovered=1")['messages'] as $item) {
                $this->assertSaysNothing($item);
            }
        }
        self::assertFalse($this->call('PUT', "$across/uncovered")['covered']);
        $preview = $this->preview($across);
        self::assertTrue($this->call('GET', "$across/kinds/links")['covered'], 'Unless it is asked for.');
        self::assertFalse($this->call('GET', "$across/kinds/links?uncovered=1")['covered']);
        $this->assertStatus(200, $preview);

        self::assertTrue($this->call('DELETE', "$across/uncovered")['covered']);
        $this->call('DELETE', "$across/uncovered");
        self::assertTrue($this->call('GET', "$across/kinds/links?uncovered=1")['covered']);
        $this->assertStatus(404, $preview);
        $this->signIn('orla');
        $acts = array_column((array) $this->call('GET', '/api/log?kind=look')['entries'], 'text');
        $about = 'all conversations in the backup of Otterpost from phone '.Phones::GIVING;
        self::assertCount(1, preg_grep("/^Uncovered $about/", $acts) ?: []);
        self::assertCount(1, preg_grep("/^Covered $about/", $acts) ?: [], 'What was covered is not covered twice.');
    }

    public function testWordsAreFoundOnlyWhileAllIsUncovered(): void
    {
        $across = $this->backedUp();
        self::assertSame('uncover_to_find', $this->refusal('POST', "$across/words", ['words' => 'the']));
        $this->call('PUT', "$across/uncovered");
        self::assertSame('too_few_letters', $this->refusal('POST', "$across/words", ['words' => ' t ']));
        $this->call('POST', "$across/words", ['words' => str_repeat('t', 101)], 422);
        $found = $this->call('POST', "$across/words", ['words' => 'THE']);
        self::assertNotSame([], $found['messages']);
        foreach ((array) $found['messages'] as $item) {
            self::assertIsArray($item);
            $parts = (array) $item['parts'];
            $hits = array_filter($parts, static fn (mixed $p): bool => is_array($p) && true === $p['hit']);
            self::assertNotSame([], $hits);
            foreach ($hits as $hit) {
                self::assertSame('the', mb_strtolower($this->text((array) $hit, 'text')));
            }
        }
        self::assertSame([], $this->call('POST', "$across/words", ['words' => 'no such words here'])['messages']);
        // Another user has uncovered nothing.
        $this->signIn('orla');
        self::assertSame('uncover_to_find', $this->refusal('POST', "$across/words", ['words' => 'the']));
    }

    private function assertStatus(int $status, string $path): void
    {
        $this->browser->request('GET', $path);
        self::assertSame($status, $this->browser->getResponse()->getStatusCode(), $path);
    }

    private function backedUp(): string
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);

        return "{$this->backupPath($n)}/across";
    }

    /** Where the small picture of a photo is that has one. */
    private function preview(string $across): string
    {
        foreach ((array) $this->call('GET', "$across/kinds/photos?uncovered=1")['messages'] as $item) {
            self::assertIsArray($item);
            $files = (array) $this->value($item, 'message', 'attachments');
            if (in_array(true, array_column($files, 'preview'), true)) {
                $id = $this->value($item, 'message', 'id');
                self::assertIsInt($id);
                self::assertIsInt($item['conversation']);

                return str_replace('/across', "/conversations/$item[conversation]/previews/$id", $across);
            }
        }
        self::fail('There are photos with a small picture.');
    }

    private function assertSaysNothing(mixed $item): void
    {
        self::assertIsArray($item);
        self::assertNull($this->value($item, 'message', 'text'));
        foreach ((array) $this->value($item, 'message', 'attachments') as $file) {
            self::assertIsArray($file);
            self::assertSame([null, false], [$file['name'], $file['preview']]);
        }
        $content = $this->value($item, 'message', 'content');
        self::assertSame([null, []], is_array($content) ? [$content['title'], $content['lines']] : [null, []]);
    }
}

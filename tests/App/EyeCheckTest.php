<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

/** What a customer compares with their own eyes: covered until they wish, ticked off, logged, on the sheet. */
final class EyeCheckTest extends ApiTestCase
{
    public function testBothListsAreToldCoveredAndTickedOff(): void
    {
        $n = $this->restored();
        $eyes = "/api/trays/$n/moves/1/eyes";
        $told = $this->call('GET', $eyes);
        self::assertTrue($told['covered']);
        $gives = (array) $told['gives'];
        $receives = (array) $told['receives'];
        self::assertGreaterThan(3, count($gives));
        foreach ([$gives, $receives] as $rows) {
            foreach ($rows as $row) {
                self::assertIsArray($row);
                $text = null === $row['last'] ? null : $this->value($row, 'last', 'text');
                self::assertNull($text, 'Covered is covered.');
            }
        }
        $same = array_filter($receives, static fn (mixed $row): bool => is_array($row) && 'same' === $row['is']);
        self::assertGreaterThan(3, count($same));
        self::assertSame(
            array_column($same, 'title'),
            array_column(array_filter(
                $gives, static fn (mixed $row): bool => is_array($row) && 'same' === $row['is'],
            ), 'title'),
            'In the same order.',
        );
        foreach (['order', 'last', 'pictures'] as $point) {
            self::assertSame(0, $this->move($n)['eyes'] <=> count(array_filter(
                (array) $this->call('GET', $eyes)['points'],
                static fn (mixed $p): bool => is_array($p) && null !== $p['by'],
            )));
            $this->call('PUT', "$eyes/$point", ['same' => true]);
        }
        $move = $this->move($n);
        self::assertSame(3, $move['eyes']);
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringContainsString(
            "Compared by eye with phone $n-B", (string) $this->browser->getResponse()->getContent(),
        );
        $this->call('PUT', "$eyes/last", ['same' => false]);
        self::assertSame(2, $this->move($n)['eyes']);
        // Another check is another look.
        $this->askAndWork($n, ['kind' => 'check']);
        self::assertSame(0, $this->move($n)['eyes']);
        $this->call('PUT', "$eyes/nose", ['same' => true], 404);
    }

    public function testTextsAndPicturesAreShownToWhoeverUncoversThemAndThatIsLogged(): void
    {
        $n = $this->restored();
        $eyes = "/api/trays/$n/moves/1/eyes";
        self::assertTrue($this->call('GET', "$eyes?uncovered=1")['covered'], 'Asking for it is not enough.');
        $pictures = (array) $this->call('GET', "$eyes?seed=5")['pictures'];
        self::assertSame($pictures, $this->call('GET', "$eyes?seed=5")['pictures'], 'Drawn, and then they stay.');
        $one = (array) $this->value($pictures, 0);
        $address = static fn (string $side, mixed $of): string => sprintf(
            '%s/pictures/%s/%s', $eyes, $side, implode('/', array_map(
                static fn (mixed $id): string => is_int($id) ? (string) $id : '', array_values((array) $of),
            )),
        );
        $this->browser->request('GET', $address('receives', $one['receives']));
        self::assertSame(404, $this->browser->getResponse()->getStatusCode());
        $this->call('PUT', "$eyes/uncovered?seed=5");
        self::assertTrue($this->call('GET', "$eyes?uncovered=1&seed=6")['covered'], 'Others were not opened.');
        $told = $this->call('GET', "$eyes?uncovered=1&seed=5");
        self::assertFalse($told['covered']);
        $texts = array_filter(
            (array) $told['receives'],
            static fn (mixed $row): bool => is_array($row) && is_array($row['last']) && null !== $row['last']['text'],
        );
        self::assertNotSame([], $texts);
        $bytes = [];
        foreach (['gives', 'receives'] as $side) {
            $this->browser->request('GET', $address($side, $one[$side]));
            self::assertSame(200, $this->browser->getResponse()->getStatusCode());
            $bytes[] = (string) $this->browser->getResponse()->getContent();
        }
        self::assertSame($bytes[0], $bytes[1], 'The same picture on both.');
        self::assertTrue($this->call('GET', $eyes)['covered'], 'Who comes back finds it covered.');
        $this->call('DELETE', "$eyes/uncovered?seed=5");
        self::assertTrue($this->call('GET', "$eyes?uncovered=1&seed=5")['covered']);
        $this->signIn('orla');
        $entries = (array) $this->call('GET', '/api/log?kind=look')['entries'];
        self::assertStringContainsString(
            'Uncovered what eyes compare of Otterpost, phones GIVES0001 and RECEIVES1', (string) json_encode($entries),
        );
        self::assertTrue($this->call('GET', "$eyes?uncovered=1")['covered'], 'Uncovered for one is for no other.');
    }

    public function testBehindTheHandOverNobodyCompares(): void
    {
        $n = $this->restored();
        $this->handOver($n);
        $this->call('GET', "/api/trays/$n/moves/1/eyes", null, 404);
        $this->call('PUT', "/api/trays/$n/moves/1/eyes/order", ['same' => true], 422);
    }

    private function restored(): int
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);

        return $n;
    }
}

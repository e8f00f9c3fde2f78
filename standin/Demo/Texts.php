<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Random\Randomizer;

/** Made-up talk: sentences by topic, with blanks that are filled from small lists. */
final class Texts
{
    private const BLANKS = [
        'n' => ['2', '3', '4', '5', '7', '8', '11', '14', '19', '26'],
        'time' => ['7:15', '8:40', '10:00', 'noon', 'half past two', '16:30', '18:00', '19:45'],
        'day' => ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'],
        'tag' => ['Montag', 'Dienstag', 'Mittwoch', 'Donnerstag', 'Freitag', 'Samstag', 'Sonntag'],
        'place' => [
            'the lime avenue', 'Quarry Field', 'the old pilot house', 'the north slope', 'Mill Lane',
            'the harbour office', 'St Olave’s hall', 'the railway meadow',
        ],
        'ort' => ['der Lindenallee', 'dem Steinbruchfeld', 'der Mühle', 'dem Hafenbüro', 'der Bahnwiese'],
        'weather' => [
            'light rain', 'hardly any wind', 'thick fog until ten', 'far too hot', 'frost again', 'a fine dry spell',
            'wind from the north-west',
        ],
        'thing' => [
            'the smoker', 'two spare frames', 'the key to the shed', 'the long ladder', 'the cool box',
            'the extension lead', 'the minutes', 'the receipts',
        ],
        'cake' => [
            'three tiers, lemon and elderflower', 'the chocolate one with hazelnut', 'forty almond slices',
            'a plain sponge for the children', 'the honey cake', 'two trays of poppy seed',
        ],
        'piece' => [
            'the Kyrie', 'bars 40 to 62', 'the descant', 'the second verse', 'the slow one in G minor', 'the encore',
            'the alto entry',
        ],
    ];

    private const TOPICS = [
        'bees' => [
            'Opened hive {n} at {place} this morning: brood on {n} frames, queen seen.',
            'Nobody opens anything before {day}, please. {weather} here.',
            'Swarm in the apple tree at {place}! Who has a box?',
            'The extractor is free from {day}, {time}.', 'Varroa count after three days: {n} on the board.',
            'Can somebody bring {thing} on {day}?', 'Minutes of the meeting are in the folder, page {n} has the vote.',
            'We have {n} jars left from last year, half of them crystallised.',
            'Subscription for this year: {n} still open. I won’t name names.',
            'The inspector comes on {day} at {time}, {place}.',
            'Hive {n} weighs {n}.{n} kg, that is too light for November.',
            'New member: please be kind, she has had bees for {n} weeks.',
            'Sugar syrup is three to two, not one to one. Again: three to two.',
            'Anyone at {place} right now? The lid of {n} has blown off.',
            'Photo of the comb is from hive {n}; does that look like foulbrood to you?',
            'Lime flow has started. {weather}.', 'I’ll take {thing} back on {day}.',
            'Honey show: hand in by {time} on {day}, no labels on the glass!',
            'Thank you all. Twelve hands are better than two.',
        ],
        'bees_de' => [
            'Das Volk an {ort} sitzt auf {n} Waben, alles ruhig.', 'Wer kann am {tag} die Schleuder holen?',
            'Bitte die Beuten an {ort} nicht öffnen, ich habe gerade behandelt.',
            'Am {tag} um {n} Uhr Arbeitsdienst, danach Suppe.',
            'Die Gläser sind da: {n} Kartons, stehen bei mir im Flur.',
            'Hat jemand noch {n} Mittelwände übrig?', 'Wunderbares Wetter, sie fliegen wie verrückt.',
            'Protokoll folgt am {tag}.', 'Danke fürs Tragen gestern, mein Rücken dankt auch.',
        ],
        'family' => [
            'Are you coming on {day}?', 'Landed. {weather}.', 'Can you pick up {thing} on the way?', 'Home by {time}.',
            'She slept through, finally.', 'Grandad says the radio is broken again. It was not plugged in.',
            'Call me when you can, nothing bad.', 'Happy birthday!! 🎂🎈',
            'Look who is here 👀', 'Which of the two do you like better?', 'Running {n} minutes late', 'ok', 'Yes!',
            'No idea, ask at {place}.', 'Thank you ❤️', 'Left {thing} on your step.', 'Did you read what he wrote?',
            'Dinner at {time}, bring nobody and nothing.', '👍', 'Train stands at {place}. Of course it does.',
        ],
        'ferry' => [
            'Departure {time} moved, {weather}.', 'Engine hours {n}{n}{n}4, oil topped up.',
            'Quay {n} is blocked by a trailer, tell the harbour office.', 'Forecast for {day}: {weather}.',
            'Crew for {day}: me, Tor and the new one.', 'Fuel on {day} at {time}, {n}{n}0 litres.',
            'Lights at {place} are out again.',
            'Seal on the slipway, take it slowly.', 'Passenger left a cello on board. A cello.',
            'Radio check {time} was fine.', 'I’ll say it in a voice note, hands are wet.',
            'Ramp hydraulics: see photo.', 'Tickets sold today: {n}{n}.',
        ],
        'cake' => [
            'For {day}: {cake}. {n} guests more than we thought!', 'Could we do {cake} without nuts?',
            'Delivery at {time}, back door, ask for Ines.', 'Deposit has arrived, thank you.',
            'The couple want the sugar bees back on top.', 'Oven two runs {n} degrees hot.',
            'Tasting on {day} at {time}?', 'Invoice attached.', 'It arrived in one piece. They cried. In a good way.',
            'No more cherries until {day}.', 'Can you write “{n} years” on it?',
        ],
        'choir' => [
            'Rehearsal on {day} at {time}, {place}.', 'Please look at {piece} before {day}.',
            'Tenors: {piece} was flat. You know it. I know it.', 'Recording of {piece} from yesterday.',
            'Who has the spare folder?', 'Concert dress is black, all black, shoes too.',
            'The organ is being tuned on {day}, so we start at {time}.', 'Wonderful evening, thank you. {piece}!!',
            'Sore throat, can’t come on {day}.', 'Coffee rota: altos.',
        ],
        'el' => [
            'Καλημέρα! Τι κάνετε;', 'Θα έρθω την {n}η, μην περιμένετε για φαγητό.', 'Πολύ ωραία η φωτογραφία 😍',
            'Πες στη μαμά να πάρει τηλέφωνο.', 'Εντάξει, τα λέμε το βράδυ.',
        ],
        'uk' => [
            'Доброго ранку, сусіде!', 'Мед чудовий, дякую. Ще {n} банки, якщо можна.', 'Приїдемо о {time}.',
            'У нас сніг, а у вас?', 'Передай вітання всім.',
        ],
        'ar' => [
            'صباح الخير، كيف الحال؟', 'شكراً جزيلاً على العسل 🍯', 'سنصل يوم الجمعة إن شاء الله', 'هل وصلت الرسالة؟',
            'نعم، كل شيء بخير.',
        ],
        'ja' => ['おはようございます。', '写真ありがとう！とてもきれいですね。', '来週の{n}日に会いましょう。', '了解です👍', 'はちみつ、おいしかったです。'],
    ];

    public function __construct(private readonly Randomizer $chance)
    {
    }

    public function sentence(string $topic): string
    {
        $text = $this->pick(self::TOPICS[$topic]);

        $filled = (string) preg_replace_callback(
            '/\{(\w+)\}/', fn (array $blank): string => $this->pick(self::BLANKS[$blank[1]] ?? ['…']), $text,
        );

        // A blank may stand at the beginning of a sentence.
        return (string) preg_replace_callback(
            '/(?:^|(?<=[.!?] ))\p{Ll}(?=\p{L}+ )/u', static fn (array $letter): string => mb_strtoupper($letter[0]),
            $filled,
        );
    }

    /** One to three sentences, mostly one. */
    public function talk(string $topic): string
    {
        $count = match (true) {
            $this->chance->getInt(1, 100) <= 72 => 1,
            $this->chance->getInt(1, 100) <= 80 => 2,
            default => 3,
        };

        return implode(' ', array_map(fn (): string => $this->sentence($topic), range(1, $count)));
    }

    /**
     * @template T
     *
     * @param non-empty-list<T> $list
     *
     * @return T
     */
    public function pick(array $list): mixed
    {
        return $list[$this->chance->getInt(0, count($list) - 1)];
    }
}
